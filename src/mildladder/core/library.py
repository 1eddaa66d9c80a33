"""The two halves of a step: what the library shares between playbooks, and what is local to one (records)."""

from typing import Any

from mildladder.core.model import Step

__all__ = ["shared_half", "with_shared_half"]

_LOCAL = {"fixes"}


def shared_half(step: Step) -> dict[str, Any]:
    """The shared half as plain data: everything but what names causes."""
    data = step.model_dump(mode="json", by_alias=True, exclude_unset=True, exclude=_LOCAL)
    for finding in data.get("findings", ()):
        finding.pop("given", None)
    return data


def with_shared_half(step: Step, shared: dict[str, Any]) -> Step:
    """The step with its shared half replaced; chances and the `given` of findings that stay are its own."""
    data = step.model_dump(mode="json", by_alias=True, exclude_unset=True)
    given = {finding["id"]: finding["given"] for finding in data.get("findings", ()) if "given" in finding}
    findings = [
        {**finding, **({"given": given[finding["id"]]} if finding["id"] in given else {})}
        for finding in shared.get("findings", ())
    ]
    local = {name: data[name] for name in _LOCAL if name in data}
    return Step.model_validate({**shared, **({"findings": findings} if findings else {}), **local})
