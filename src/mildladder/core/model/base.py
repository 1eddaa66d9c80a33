"""What every shape is made of: the base, and the plain types that several shapes share."""

from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field
from pydantic.json_schema import DEFAULT_REF_TEMPLATE, GenerateJsonSchema, JsonSchemaMode, JsonSchemaValue
from pydantic_core.core_schema import DictSchema

__all__ = [
    "FORMAT",
    "MOST_LINE",
    "NOT_OF_PATTERN",
    "SOMETHING_ELSE",
    "Amount",
    "Baseline",
    "By",
    "Chance",
    "ChanceWord",
    "Confirmed",
    "Duration",
    "End",
    "FactType",
    "FactValue",
    "FootingRef",
    "HazardKind",
    "Id",
    "Layer",
    "Line",
    "Minutes",
    "Mode",
    "Outcome",
    "Person",
    "PicturePath",
    "Prose",
    "Shape",
    "Share",
    "StepKind",
]


FORMAT = "mild-ladder/playbook/1"
SOMETHING_ELSE = "something-else"

Layer = Literal["wiring", "power", "settings", "software", "data", "network", "hardware", "outside"]
StepKind = Literal["check", "fix", "safeguard", "workaround", "prevention"]
HazardKind = Literal["data", "service", "equipment", "security", "injury"]
Person = Literal["caller", "desk", "visit"]
By = Literal["caller", "desk", "visit", "before"]
ChanceWord = Literal["nearly-always", "usually", "often", "sometimes", "rarely"]
Outcome = Literal[
    "fixed", "no-change", "better", "worse", "nothing-to-do", "not-available", "could-not", "skipped", "done"
]
End = Literal["resolved", "worked-around", "handed-off", "abandoned", "self-cleared"]
Baseline = Literal["fails", "works", "cannot-try"]
Confirmed = Literal["caller", "measured", "assumed", "none"]
Mode = Literal["mildest", "balanced"]

_ID = r"^[a-z0-9]+(-[a-z0-9]+)*$"
Id = Annotated[str, Field(pattern=_ID, max_length=64)]
MOST_LINE = 300
Line = Annotated[str, Field(min_length=1, max_length=MOST_LINE)]
Prose = Annotated[str, Field(min_length=1, max_length=4000)]
Minutes = Annotated[float, Field(ge=0, le=1e6, allow_inf_nan=False, strict=True)]
Amount = Minutes
Share = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False, strict=True)]
Chance = Share | ChanceWord
FactType = Literal["choice", "version", "text", "number", "yes-no", "duration"]
FactValue = Annotated[str, Field(min_length=1, max_length=60)]
_CLOCK = "([0-9]{1,4}H([0-9]{1,4}M)?([0-9]{1,5}S)?|[0-9]{1,4}M([0-9]{1,5}S)?|[0-9]{1,5}S)"
_DURATION = rf"^P([0-9]{{1,4}}D|([0-9]{{1,4}}D)?T{_CLOCK})$"
Duration = Annotated[str, Field(pattern=_DURATION)]
_PICTURE = r"^[A-Za-z0-9_-][A-Za-z0-9_./-]*\.(png|jpg|jpeg|webp)$"
PicturePath = Annotated[str, Field(pattern=_PICTURE, max_length=200)]
# What a text is not that does not fit a pattern; how it is written in a file, and in a field of the builder.
NOT_OF_PATTERN = {
    _ID: ("no id", "use small letters, digits and single hyphens", "use letters, digits and spaces"),
    _DURATION: ("no length of time", "write PT4H for four hours, PT10S for ten seconds", "write 4 h, 30 min or 10 s"),
    _PICTURE: ("no path of a picture", "write it like pictures/lamp.png", "choose the picture once more"),
}
FootingRef = Id


_UnionFormat = Literal["any_of", "primitive_type_array"]


class _ExactKeys(GenerateJsonSchema):
    """JSON Schema that also says of a mapping that no other keys than the patterned ones are read."""

    def dict_schema(self, schema: DictSchema) -> JsonSchemaValue:
        """The mapping's schema, its pattern as that of every property name."""
        made = super().dict_schema(schema)
        for pattern, values in made.pop("patternProperties", {}).items():
            made["propertyNames"] = {"pattern": pattern}
            made["additionalProperties"] = values
        return made


class Shape(BaseModel):
    """Base of every shape: immutable, and strict about keys that it does not know."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    @classmethod
    def model_json_schema(
        cls,
        by_alias: bool | None = None,
        ref_template: str = DEFAULT_REF_TEMPLATE,
        schema_generator: type[GenerateJsonSchema] = _ExactKeys,
        mode: JsonSchemaMode = "validation",
        *,
        union_format: _UnionFormat = "any_of",
    ) -> dict[str, Any]:
        """JSON Schema of the shape (see pydantic), exact about the keys of mappings."""
        return super().model_json_schema(by_alias, ref_template, schema_generator, mode, union_format=union_format)
