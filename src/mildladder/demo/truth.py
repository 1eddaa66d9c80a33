"""What is really so on the made-up desk, which its lead can only guess at and its cases can show.

The playbooks hold the lead's guesses; where the truth differs, it stands here. Discoveries are planted on purpose:
a step near the top with a fine raw rate that only picks off easy cases, a cure that often does not hold, one that a new
version ended, a hazard that is far more common than its step says.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field

__all__ = ["NEW_VERSION", "TRUTHS", "Truth"]

NEW_VERSION = 10  # the eleventh month


@dataclass(frozen=True)
class Truth:
    """One symptom's truth.

    share: of all cases. causes: weights. units: how many there are; prefix: of their names (None: their model). cures:
    step (or step@fact=value) -> cause -> chance, in place of the lead's. could_not: step -> chance that it cannot be
    carried out. comes_back: step -> chance that its cure does not hold. given_cause: fact -> cause -> value -> share,
    where a fact hangs on the cause. self_clears: chance per attempt that the fault ends by itself. harms: step -> kind
    -> chance, in place of the lead's. rollouts: fact -> month (0 the first) from which on -> value -> share.
    """

    share: float
    causes: Mapping[str, float]
    says: tuple[str, ...]
    units: int
    prefix: str | None = None
    cures: Mapping[str, Mapping[str, float]] = field(default_factory=dict)
    could_not: Mapping[str, float] = field(default_factory=dict)
    comes_back: Mapping[str, float] = field(default_factory=dict)
    given_cause: Mapping[str, Mapping[str, Mapping[str, float]]] = field(default_factory=dict)
    self_clears: float = 0.005
    harms: Mapping[str, Mapping[str, float]] = field(default_factory=dict)
    rollouts: Mapping[str, Mapping[int, Mapping[str, float]]] = field(default_factory=dict)


_GATE_FIRMWARE = {0: {"4.1": 0.45, "4.2": 0.55}, NEW_VERSION: {"4.1": 0.2, "4.2": 0.15, "4.3": 0.65}}

TRUTHS: Mapping[str, Truth] = {
    "kiosk-faint-tickets": Truth(
        share=0.24,
        causes={
            "roll-reversed": 5,
            "head-dirty": 6,
            "darkness-low": 1.2,
            "lid-open": 2.5,
            "program-upset": 2,
            "head-worn": 1.2,
            "something-else": 1.2,
        },
        says=(
            "Ticket is white, customer wants her money back",
            "Kiosk by the gangway prints so faint nobody can read it",
            "Stripes through all the tickets since this morning",
            "It took the card and gave a blank ticket",
            "Tickets grey, second one today",
            "Blank paper again, and there is a queue",
        ),
        units=28,
        cures={
            "set-darkness": {"darkness-low": 0.9, "head-dirty": 0.45, "head-worn": 0.3},
            "clean-head": {"head-dirty": 0.86},
        },
        could_not={"clean-head": 0.16, "turn-roll": 0.03},
        comes_back={"set-darkness": 0.4, "clean-head": 0.06},
    ),
    "handheld-no-sailing-list": Truth(
        share=0.32,
        causes={
            "wrong-landing": 2,
            "off-network": 6,
            "clock-wrong": 0.6,
            "store-full": 2.5,
            "app-stuck": 5,
            "list-late": 3.5,
            "radio-dead": 0.8,
            "something-else": 1.5,
        },
        says=(
            "No list on the reader, we board in ten minutes",
            "It still shows last night's sailing",
            "Says list not loaded whatever I press",
            "Wheel keeps turning, passes all red",
            "Reader worked at the last landing, not here",
            "Took it off the charger and there is nothing on it",
        ),
        units=60,
        cures={
            "toggle-flight-key": {"off-network": 0.74, "app-stuck": 0.12},
            "end-list-program": {"app-stuck": 0.84, "off-network": 0.05},
            "set-clock": {"clock-wrong": 0.9},
        },
        could_not={"swap-handheld": 0.14, "send-handheld-counts": 0.12, "ask-office-release": 0.05},
        harms={"end-list-program": {"data": 0.34}},
        comes_back={"toggle-flight-key": 0.18, "end-list-program": 0.12},
        given_cause={
            "list-on-others": {
                "list-late": {"have not": 0.95, "have it": 0.05},
                "off-network": {"have not": 0.25, "have it": 0.75},
                "*": {"have not": 0.06, "have it": 0.94},
            }
        },
        self_clears=0.02,
    ),
    "board-departed-sailing": Truth(
        share=0.2,
        causes={
            "not-signed-off": 7,
            "board-frozen": 4,
            "feed-down": 2,
            "switch-upset": 1.2,
            "lead-loose": 0.7,
            "something-else": 1,
        },
        says=(
            "Board still says boarding, the ship is gone",
            "People run for a ship that left at nine",
            "First line on the board is an hour old",
            "Clock on the board has stopped",
            "Both boards show the early sailing",
        ),
        units=24,
        prefix="BD",
        cures={"restart-board": {"board-frozen": 0.94, "feed-down": 0.05}},
        could_not={"restart-board": 0.06, "seat-lead": 0.34},
        comes_back={"restart-board": 0.15},
        given_cause={
            "boards-wrong": {
                "feed-down": {"one of them": 0.08, "all of them": 0.92},
                "switch-upset": {"one of them": 0.3, "all of them": 0.7},
                "not-signed-off": {"one of them": 0.45, "all of them": 0.55},
                "*": {"one of them": 0.95, "all of them": 0.05},
            }
        },
        self_clears=0.015,
    ),
    "counter-no-labels": Truth(
        share=0.24,
        causes={
            "queue-jammed": 7,
            "gap-lost": 2.5,
            "lead-out": 1.2,
            "wrong-printer": 3,
            "driver-old": 1.5,
            "cutter-jam": 1.2,
            "something-else": 0.8,
        },
        says=(
            "Label printer does nothing, four cars waiting",
            "Label queued, label queued, nothing comes",
            "Put a new roll in and now it blinks red",
            "Printer at counter two is dead",
            "It printed half a label and stopped",
        ),
        units=20,
        prefix="CL",
        cures={"feed-labels": {"gap-lost": 0.9}, "empty-label-queue": {"queue-jammed": 0.93, "driver-old": 0.2}},
        could_not={"clear-cutter": 0.2, "update-print-service": 0.04},
        comes_back={"empty-label-queue": 0.14, "push-label-leads": 0.1},
        given_cause={
            "changed": {
                "gap-lost": {"new roll": 0.8, "moved or cleaned": 0.05, "update overnight": 0.05, "nothing known": 0.1},
                "lead-out": {"new roll": 0.05, "moved or cleaned": 0.8, "update overnight": 0.0, "nothing known": 0.15},
                "driver-old": {
                    "new roll": 0.05,
                    "moved or cleaned": 0.0,
                    "update overnight": 0.85,
                    "nothing known": 0.1,
                },
                "*": {"new roll": 0.15, "moved or cleaned": 0.1, "update overnight": 0.1, "nothing known": 0.65},
            }
        },
    ),
    "gate-arm-up": Truth(
        share=0.2,
        causes={
            "hold-left-on": 7,
            "sensor-dirty": 4,
            "lead-bad": 1.5,
            "program-upset": 2.5,
            "drive-worn": 0.8,
            "something-else": 1,
        },
        says=(
            "Arm went up for the prep check and stays up",
            "Lane three has its arm in the air",
            "Gate arm will not come down, the lamp blinks twice",
            "Arm stuck up since the early ship",
        ),
        units=30,
        cures={
            "restart-lane-unit": {"program-upset": 0.86, "hold-left-on": 0.1},
            "wipe-home-sensor@model=GR4": {"sensor-dirty": 0.0},
            "wipe-home-sensor@model=GR6": {"sensor-dirty": 0.92},
        },
        could_not={"clear-hold": 0.22, "save-counts": 0.09},
        rollouts={"firmware": _GATE_FIRMWARE},
        comes_back={"restart-lane-unit": 0.3, "wipe-home-sensor": 0.1},
    ),
    "gate-stays-amber": Truth(
        share=0.22,
        causes={
            "window-dirty": 6,
            "sunlight": 1.5,
            "reader-stuck": 5,
            "in-maintenance": 2.5,
            "reader-lead": 1,
            "reader-dead": 1,
            "something-else": 1,
        },
        says=(
            "Gate is amber and does not beep",
            "It takes no pass at all, not even mine",
            "Amber lamp at the second gate since the rain",
            "Reader not answering, says the page",
        ),
        units=40,
        cures={
            "wipe-window": {"window-dirty": 0.88},
            "restart-reader@firmware=4.3": {"reader-stuck": 0.04},
            "restart-reader": {"reader-stuck": 0.9},
            "raise-reader-light": {"window-dirty": 0.15, "sunlight": 0.5},
        },
        could_not={"end-maintenance": 0.35, "swap-reader": 0.04},
        rollouts={"firmware": _GATE_FIRMWARE},
        comes_back={"restart-reader": 0.22, "shade-window": 0.5},
        given_cause={"sun-on-window": {"sunlight": {"yes": 0.95, "no": 0.05}, "*": {"yes": 0.12, "no": 0.88}}},
        self_clears=0.02,
    ),
    "pass-already-aboard": Truth(
        share=0.16,
        causes={
            "loaded-twice": 8,
            "old-list": 1.5,
            "really-used": 1.5,
            "clock-off": 0.8,
            "crew-tablet-wrote": 2,
            "something-else": 0.8,
        },
        says=(
            "It says already aboard and she has not been aboard",
            "Half the passengers are aboard already, says the gate",
            "Already aboard, P-44, three in a row",
            "A man's pass is refused, he has just come from the car park",
        ),
        units=25,
        prefix="GT",
        cures={"drop-second-list": {"loaded-twice": 0.96}, "set-gate-clock": {"clock-off": 0.9}},
        could_not={"drop-second-list": 0.05, "uncount-on-tablet": 0.1},
        comes_back={"drop-second-list": 0.05},
        given_cause={
            "how-many": {
                "loaded-twice": {"one": 0.1, "many": 0.9},
                "old-list": {"one": 0.15, "many": 0.85},
                "*": {"one": 0.92, "many": 0.08},
            }
        },
    ),
    "tablet-loses-network": Truth(
        share=0.14,
        causes={
            "clings-to-pier": 7,
            "wrong-password": 2,
            "saver-on": 4,
            "certificate-old": 1.2,
            "antenna-weak": 0.8,
            "something-else": 1,
        },
        says=(
            "Tablet has no network since we left the pier",
            "The list does not renew at sea",
            "Ship's sign is grey again",
            "Every crossing the same: no network on the tablet",
        ),
        units=18,
        prefix="TB",
        cures={"forget-pier-network": {"clings-to-pier": 0.83}, "switch-saver-off": {"saver-on": 0.93}},
        could_not={"forget-pier-network": 0.18, "use-spare-tablet": 0.2, "renew-certificate": 0.25},
        comes_back={"forget-pier-network": 0.35},
        self_clears=0.04,
    ),
    "kiosk-no-card-pad": Truth(
        share=0.2,
        causes={
            "pad-asleep": 6,
            "pad-lead": 2.5,
            "program-lost-pad": 4.5,
            "key-run-out": 1.5,
            "pad-dead": 0.6,
            "something-else": 1,
        },
        says=(
            "Kiosk takes no cards, only coins",
            "No card pad, it says, and people walk away",
            "The four lamps on the pad are dark",
            "Card pad gone again at the second kiosk",
        ),
        units=28,
        cures={
            "wake-pad": {"pad-asleep": 0.72},
            "restart-pad-service": {"program-lost-pad": 0.82, "pad-asleep": 0.2},
            "restart-kiosk": {"program-lost-pad": 0.9, "pad-asleep": 0.8},
        },
        could_not={"restart-pad-service": 0.33, "seat-pad-lead": 0.12},
        comes_back={"wake-pad": 0.12, "restart-kiosk": 0.1},
        given_cause={
            "lamps": {
                "pad-lead": {"dark": 0.9, "lit": 0.1},
                "pad-dead": {"dark": 0.8, "lit": 0.2},
                "pad-asleep": {"dark": 0.6, "lit": 0.4},
                "*": {"dark": 0.15, "lit": 0.85},
            }
        },
    ),
    "kiosk-touch-offset": Truth(
        share=0.14,
        causes={
            "adjust-lost": 5,
            "rim-dirty": 5,
            "picture-wrong-size": 2,
            "touch-upset": 3,
            "touch-dead": 0.6,
            "something-else": 0.8,
        },
        says=(
            "I press Vane Island and it takes Sallow Bay",
            "Touch is a finger off to the left",
            "The lowest buttons on the kiosk do nothing",
            "People press and press, the mark is beside it",
        ),
        units=28,
        cures={"wipe-rim": {"rim-dirty": 0.82}, "adjust-touch": {"adjust-lost": 0.9, "touch-upset": 0.15}},
        could_not={"adjust-touch": 0.3, "load-touch-table": 0.05},
        comes_back={"wipe-rim": 0.2, "restart-touch": 0.25},
        self_clears=0.01,
    ),
    "handheld-dies": Truth(
        share=0.16,
        causes={
            "contacts-dull": 6,
            "battery-old": 5,
            "light-always-on": 2,
            "program-leaks": 3,
            "board-cracked": 0.7,
            "something-else": 0.8,
        },
        says=(
            "Reader went dark in the middle of boarding",
            "It dies every few hours and comes back",
            "Third time today my handheld is off",
            "Battery says half, then it is black",
        ),
        units=60,
        cures={
            "wipe-contacts": {"contacts-dull": 0.85, "battery-old": 0.15},
            "change-battery": {"battery-old": 0.96, "contacts-dull": 0.3},
        },
        could_not={"change-battery": 0.12, "swap-reader-for-spare": 0.2, "send-counts": 0.1},
        comes_back={"wipe-contacts": 0.3, "end-lists": 0.25},
        given_cause={"every": {"battery-old": {"PT2H": 0.3, "PT6H": 0.7}, "*": {"PT2H": 0.7, "PT6H": 0.3}}},
        self_clears=0.03,
    ),
    "lane-scale-wrong": Truth(
        share=0.1,
        causes={
            "nought-drifted": 6,
            "grit-under-plate": 5,
            "wet-box": 2,
            "table-lost": 1.5,
            "cell-broken": 0.8,
            "something-else": 1,
        },
        says=(
            "Scale shows two tons for my small car",
            "Empty lane and the scale says four hundred",
            "The scale jumps up and down",
            "Lane two weighs everything too heavy",
        ),
        units=12,
        prefix="LS",
        cures={"set-nought": {"nought-drifted": 0.9}, "sweep-plate": {"grit-under-plate": 0.75}},
        could_not={"sweep-plate": 0.1, "note-table": 0.08},
        comes_back={"set-nought": 0.15, "dry-box": 0.3},
        given_cause={"rained": {"wet-box": {"yes": 0.9, "no": 0.1}, "*": {"yes": 0.3, "no": 0.7}}},
    ),
}
