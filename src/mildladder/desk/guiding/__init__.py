"""The guided case: its steps, its sheet, what is known now, and what agents say of texts."""
