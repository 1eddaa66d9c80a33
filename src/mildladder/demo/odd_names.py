"""What the harbour office's own ticket system calls the steps that its people do, none of them by our names."""

from collections.abc import Mapping
from dataclasses import dataclass

__all__ = ["EXTRA", "ODD_NAMES"]


@dataclass(frozen=True)
class Extra:
    """A step that the harbour office does and no playbook has; `cures`: cause -> true chance."""

    names: tuple[str, ...]
    cures: Mapping[str, float]


ODD_NAMES: Mapping[str, Mapping[str, tuple[str, ...]]] = {
    "kiosk-faint-tickets": {
        "close-lid": ("lid shut properly", "pushed lid"),
        "turn-roll": ("roll other way round", "Paper turned"),
        "set-darkness": ("darker setting", "DARKNESS UP"),
        "clean-head": ("cleaned print head", "head wiped w. cloth", "ph cleaned"),
        "reload-printer-program": ("printer prog. loaded again", "re-load printer sw"),
        "swap-print-head": ("new head fitted", "head changed"),
    },
    "handheld-no-sailing-list": {
        "ask-office-release": ("rang office to release list", "office rel. list"),
        "choose-landing": ("landing was set wrong, changed", "set landing"),
        "toggle-flight-key": ("radio off/on", "flight key twice"),
        "set-clock": ("clock put right", "time sync"),
        "end-list-program": ("list app closed and opened", "killed list prog"),
        "clear-old-lists": ("deleted old lists", "memory cleared"),
        "swap-handheld": ("gave spare reader", "other handheld issued"),
    },
    "board-departed-sailing": {
        "sign-off-departure": ("signed ship off", "departure closed by us"),
        "nudge-feed": ("feed restarted", "timetable kick"),
        "restart-board": ("board off and on", "power cycled board"),
        "seat-lead": ("plug pushed in", "network plug reseated"),
        "restart-switch": ("switch rebooted", "restarted network box"),
    },
    "counter-no-labels": {
        "choose-label-printer": ("right printer picked", "printer selected"),
        "push-label-leads": ("cables pushed in", "checked both plugs"),
        "feed-labels": ("fed labels thru", "calibrated the roll"),
        "empty-label-queue": ("queue emptied", "print jobs deleted"),
        "clear-cutter": ("cutter un-jammed", "took label out of cutter"),
        "update-print-service": ("print service updated", "new driver"),
        "write-labels-by-hand": ("labels by pen", "hand written labels"),
    },
    "gate-arm-up": {
        "clear-hold": ("hold open taken off", "HOLD OFF"),
        "restart-lane-unit": ("lane unit restarted", "rebooted lane"),
        "wipe-home-sensor": ("sensor cleaned", "wiped eye at arm"),
        "seat-all-leads": ("all plugs pushed", "leads reseated"),
        "reload-program": ("lane program re-loaded", "re-flash lane"),
        "swap-arm-drive": ("arm drive changed", "new drive"),
    },
    "gate-stays-amber": {
        "wipe-window": ("window wiped", "cleaned glass"),
        "shade-window": ("sun shade held over", "shaded"),
        "end-maintenance": ("taken out of maint.", "service mode off"),
        "restart-reader": ("reader restarted", "reader off/on"),
        "load-reader-settings": ("settings sent again", "re-sent config"),
        "raise-reader-light": ("light to strong", "lamp level up"),
        "seat-reader-lead": ("reader plug pushed in", "lead at reader ok'd"),
        "swap-reader": ("reader replaced", "new reader"),
    },
    "pass-already-aboard": {
        "uncount-on-tablet": ("count undone on tablet", "un-boarded her"),
        "set-gate-clock": ("gate time set", "clock at gate"),
        "drop-second-list": ("double list removed", "2nd list deleted"),
        "load-list-anew": ("list loaded fresh", "new list to gate"),
        "board-by-paper": ("paper list used", "boarded on paper"),
        "sell-new-pass": ("new pass given", "re-issued pass"),
    },
    "tablet-loses-network": {
        "forget-pier-network": ("pier wifi forgotten", "removed pier net"),
        "switch-saver-off": ("saver off", "battery saving disabled"),
        "enter-new-password": ("new ship password typed", "pw changed"),
        "renew-certificate": ("certificate renewed", "new cert"),
        "reset-network-settings": ("network settings reset", "net reset"),
        "use-spare-tablet": ("spare tablet", "swapped tablet"),
    },
    "kiosk-no-card-pad": {
        "wake-pad": ("green key held", "woke the pad"),
        "renew-pad-key": ("new key fetched for pad", "pad key renewed"),
        "restart-pad-service": ("pad service restarted", "svc restart"),
        "seat-pad-lead": ("pad cable pushed in", "reseated pad lead"),
        "restart-kiosk": ("kiosk restarted", "reboot kiosk"),
        "swap-pad": ("pad replaced", "new card pad"),
    },
    "kiosk-touch-offset": {
        "wipe-rim": ("rim cleaned", "glass edge wiped"),
        "set-picture-size": ("picture size set", "resolution fixed"),
        "adjust-touch": ("touch adjusted", "calibrated touch"),
        "restart-touch": ("touch unplugged 1 min", "touch off/on"),
        "load-touch-table": ("touch table loaded", "table re-sent"),
        "swap-touch": ("new touch part", "touch changed"),
    },
    "handheld-dies": {
        "wipe-contacts": ("contacts cleaned", "battery pins wiped"),
        "rest-light": ("light off, radio rest", "dimmed the light"),
        "end-lists": ("closes list after each trip", "lists ended"),
        "load-handheld-program": ("program loaded again", "re-image reader"),
        "change-battery": ("battery changed", "new batt."),
        "swap-reader-for-spare": ("spare reader given", "exchanged reader"),
    },
    "lane-scale-wrong": {
        "set-nought": ("zeroed scale", "nought set"),
        "sweep-plate": ("swept round plate", "grit out"),
        "dry-box": ("box dried", "water out of lead box"),
        "load-table": ("table loaded again", "scale table re-sent"),
        "change-cell": ("cell changed", "new weighing cell"),
    },
}

EXTRA: Mapping[str, Extra] = {
    "kiosk-faint-tickets": Extra(("warmed printer up first", "let printer warm"), {"darkness-low": 0.3}),
    "counter-no-labels": Extra(("tapped sensor free of dust", "blew dust off label eye"), {"gap-lost": 0.7}),
    "gate-arm-up": Extra(("pressed arm down by hand once", "arm helped down"), {"sensor-dirty": 0.35}),
    "kiosk-no-card-pad": Extra(("pad out of bracket and back", "lifted pad, put back"), {"pad-lead": 0.6}),
    "handheld-dies": Extra(("battery warmed in pocket", "warm battery"), {"contacts-dull": 0.3}),
}
