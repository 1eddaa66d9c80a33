"""The made-up desk of Ostrel Ferries: its playbooks, and a seeded generator of cases with a known truth."""
