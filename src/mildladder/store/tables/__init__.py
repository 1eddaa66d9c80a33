"""The tables: documents where we author, rows where we count."""

from mildladder.store.tables.advice import DeclinedNudgeRow, JobRow, PromiseRow, TrialCaseRow, TrialRow
from mildladder.store.tables.base import Base, DeskVersionRow, PersonRow, SettingRow, Written
from mildladder.store.tables.guided import ClimbEventRow, ClimbRow, NoticeCallRow, NoticeRow, RemarkRow
from mildladder.store.tables.log import (
    AttemptRow,
    CaseFactRow,
    CaseRow,
    ClosingDayRow,
    ImportRow,
    RefusedLineRow,
    ReplacedCaseRow,
    SignatureRow,
    StepTallyRow,
    StratumRow,
    TallyRow,
    TallyVersionRow,
)
from mildladder.store.tables.playbooks import (
    AliasRow,
    DraftClientRow,
    EditionRow,
    FactRow,
    FormRow,
    LibraryStepRow,
    PictureRow,
    PlaybookRow,
    RevisionRow,
)

__all__ = [
    "AliasRow", "AttemptRow", "Base", "CaseFactRow", "CaseRow", "ClimbEventRow", "ClimbRow", "ClosingDayRow",
    "DeclinedNudgeRow", "DeskVersionRow", "DraftClientRow", "EditionRow", "FactRow", "FormRow", "ImportRow", "JobRow",
    "LibraryStepRow", "NoticeCallRow", "NoticeRow", "PersonRow", "PictureRow", "PlaybookRow", "PromiseRow",
    "RefusedLineRow", "RemarkRow", "ReplacedCaseRow", "RevisionRow", "SettingRow", "SignatureRow",
    "StepTallyRow", "StratumRow", "TallyRow", "TallyVersionRow", "TrialCaseRow", "TrialRow", "Written",
]  # fmt: skip
