"""The two halves of a step: what the library shares between playbooks, and what is local to one (records).

Only local keys may name causes or footings: `fixes`, `given`, `footing`, that of `undo`, and `varies` of these.
"""

from typing import Any

from mildladder.core.model import Step

__all__ = ["shared_half", "with_shared_half"]

_LOCAL = ("fixes", "footing")


def shared_half(step: Step) -> dict[str, Any]:
    """The shared half as plain data."""
    data = _data(step)
    for name in _LOCAL:
        data.pop(name, None)
    for finding in data.get("findings", ()):
        finding.pop("given", None)
    data.get("undo", {}).pop("footing", None)
    shared = [{k: v for k, v in variant.items() if k not in _LOCAL} for variant in data.pop("varies", ())]
    shared = [variant for variant in shared if set(variant) != {"when"}]
    return {**data, **({"varies": shared} if shared else {})}


def with_shared_half(step: Step, shared: dict[str, Any]) -> Step:
    """The step with its shared half replaced; what is local to its playbook stays."""
    data = _data(step)
    given = {finding["id"]: finding["given"] for finding in data.get("findings", ()) if "given" in finding}
    findings = [
        {**finding, **({"given": given[finding["id"]]} if finding["id"] in given else {})}
        for finding in shared.get("findings", ())
    ]
    local = {name: data[name] for name in _LOCAL if name in data}
    varies = _merged_variants(shared.get("varies", ()), data.get("varies", ()))
    merged = {**shared, **local}
    if "undo" in shared and "footing" in data.get("undo", {}):
        merged["undo"] = {**shared["undo"], "footing": data["undo"]["footing"]}
    if findings:
        merged["findings"] = findings
    if varies:
        merged["varies"] = varies
    return Step.model_validate(merged)


def _merged_variants(shared: Any, mine: Any) -> list[dict[str, Any]]:
    """The library's variants with this playbook's local keys, in the library's order; then those that are all local."""
    local = {variant["when"]: {k: v for k, v in variant.items() if k in _LOCAL} for variant in mine}
    merged = [{**variant, **local.pop(variant["when"], {})} for variant in shared]
    return merged + [{"when": when, **keys} for when, keys in local.items() if keys]


def _data(step: Step) -> dict[str, Any]:
    return step.model_dump(mode="json", by_alias=True, exclude_unset=True)
