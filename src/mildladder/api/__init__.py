"""The HTTP interface: thin routes over the use cases, one translator of errors, and the built front end."""
