"""The processes that carry jobs out, and the table of their kinds."""
