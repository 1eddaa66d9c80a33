"""Where two playbooks differ, by the keys of the format."""

# Maps whose names are values, causes or findings.
_MAPS = {"choices", "shares", "points_to", "fixes", "given", "on"}


def unlike(one: object, other: object, place: tuple[str | int, ...] = ()) -> list[tuple[tuple[str | int, ...], str]]:
    """Every place at which two documents differ, with what stands there."""
    if isinstance(one, dict) and isinstance(other, dict):
        names = {**one, **other}
        return [found for name in names for found in unlike(one.get(name), other.get(name), (*place, name))]
    if isinstance(one, list) and isinstance(other, list) and len(one) == len(other):
        pairs = enumerate(zip(one, other, strict=True))
        return [found for number, pair in pairs for found in unlike(*pair, (*place, number))]
    return [] if one == other else [(place, f"{one!r} != {other!r}")]


def key_of(place: tuple[str | int, ...]) -> str:
    """A place as the table of keys writes it: ``steps[].hazards[].chance``, ``facts[].choices.*``."""
    made = ""
    for number, name in enumerate(place):
        if isinstance(name, int):
            made += "[]"
        elif number and place[number - 1] in _MAPS:
            made += ".*"
        else:
            made += f".{name}" if made else str(name)
    return made
