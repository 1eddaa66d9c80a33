"""The HTTP interface: thin routes over the use cases, one translator of errors, and the built front end."""

from flask_openapi3.models import Schema

# The package's own schema model drops every keyword that it has no field for, propertyNames among them. Routes make
# schemas as they are imported, so this stands before all of them.
Schema.model_config["extra"] = "allow"
Schema.model_rebuild(force=True)
