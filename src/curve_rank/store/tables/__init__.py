"""The tables. Every row a person makes carries its owner."""

from curve_rank.store.tables.accounts import (
    AccessToken,
    Account,
    Consent,
    Invitation,
    Reset,
    SignIn,
    WrongTry,
)
from curve_rank.store.tables.audit import AuditEntry
from curve_rank.store.tables.base import Base, now
from curve_rank.store.tables.documents import Document, DocumentVersion
from curve_rank.store.tables.house import (
    EditionTurn,
    ForecastRow,
    HouseConsent,
    HouseEdition,
    HouseReleaseRow,
    HouseShare,
    HouseTrialPerson,
    HouseTrialRow,
    OtherHouseRow,
)
from curve_rank.store.tables.measurements import CapturePart, CaptureRow, PictureRow, PictureSet
from curve_rank.store.tables.people import BodyRow, CoachClient, Person, PersonRole, Room
from curve_rank.store.tables.plans import Plan, PlanClient, PlanState
from curve_rank.store.tables.profiles import ClientProfileRow
from curve_rank.store.tables.publications import Publication
from curve_rank.store.tables.questions import SavedQuestion
from curve_rank.store.tables.sketches import SketchRow
from curve_rank.store.tables.training import (
    ArmMeasureRow,
    CommentRow,
    ProgressPicture,
    SeenMark,
    SessionEvent,
    SetRow,
    SetVersion,
    TrainingState,
    TrialRow,
)
from curve_rank.store.tables.verdicts import VerdictRow

__all__ = [
    "AccessToken",
    "Account",
    "ArmMeasureRow",
    "AuditEntry",
    "Base",
    "BodyRow",
    "CapturePart",
    "CaptureRow",
    "ClientProfileRow",
    "CoachClient",
    "CommentRow",
    "Consent",
    "Document",
    "DocumentVersion",
    "EditionTurn",
    "ForecastRow",
    "HouseConsent",
    "HouseEdition",
    "HouseReleaseRow",
    "HouseShare",
    "HouseTrialPerson",
    "HouseTrialRow",
    "Invitation",
    "OtherHouseRow",
    "Person",
    "PersonRole",
    "PictureRow",
    "PictureSet",
    "Plan",
    "PlanClient",
    "PlanState",
    "ProgressPicture",
    "Publication",
    "Reset",
    "Room",
    "SavedQuestion",
    "SeenMark",
    "SessionEvent",
    "SetRow",
    "SetVersion",
    "SignIn",
    "SketchRow",
    "TrainingState",
    "TrialRow",
    "VerdictRow",
    "WrongTry",
    "now",
]
