"""How a playbook changes: the working form, edits, conflicts, undo, flaws. Pure; see docs/drafts.md."""
