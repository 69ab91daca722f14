"""All models, so that migrations and queries see one metadata."""

from longbreath.store.models.bench import (
    Bench,
    BenchRange,
    BenchSession,
    BenchSheet,
    Calibration,
    Fixture,
    Reading,
    ReadingMark,
    Trace,
)
from longbreath.store.models.blob import Blob, BlobPart
from longbreath.store.models.cell import CellBlock, CellRun, PracticeRound, SessionClosing, TuningRound
from longbreath.store.models.claim import Claim, ClaimAct, ClaimSheet, FactComment
from longbreath.store.models.dyno import Dyno, DynoSession, TestCard
from longbreath.store.models.geometry import Face, FaceLay, Fit, FitSpot, LadderRung, WheelSheet
from longbreath.store.models.health import HealthEntry
from longbreath.store.models.instrument import InstrumentAddress, InstrumentLine, InstrumentSample
from longbreath.store.models.kept import DossierStamp, Kept, KeptWeighing
from longbreath.store.models.library import Application, Product, Revision, Vehicle
from longbreath.store.models.owed import CalendarKey, DynoScatter, Owed, OwedLink, WorkTask
from longbreath.store.models.path import Element, SizeReading
from longbreath.store.models.people import ROLES, AuditEntry, PasswordLink, SentForm, SignIn, SignInTry, User
from longbreath.store.models.plan import CardPair, CardTick, CardVariant, Variant, VariantPart
from longbreath.store.models.port import PortingBout, PortingJob, Traverse, TraversePoint
from longbreath.store.models.pulls import (
    Channel,
    LogRead,
    Pull,
    PullCondition,
    PullJudgement,
    PullReading,
    RawFile,
    SecondLook,
    SourceMapping,
    TypedPull,
)
from longbreath.store.models.reckon import (
    CandidatePart,
    KeptAnswer,
    Prediction,
    PredictionScore,
    PredictionSeal,
    Target,
)
from longbreath.store.models.record import Attachment, AttachmentMark, BuildSheet, DifferenceReason
from longbreath.store.models.release import ClaimBundle, ClaimRules, SigningKey
from longbreath.store.models.road import Certificate, CoveredVehicle, SheetNote
from longbreath.store.models.seen import PullTrace, StretchKnown
from longbreath.store.models.shop import (
    Cell,
    Checklist,
    EngineStay,
    FuelBatch,
    OutsideTable,
    Sample,
    Sensor,
    TestEngine,
    TuneFile,
)
from longbreath.store.models.verdict import Verdict
from longbreath.store.models.weigh import KitSheet, Trial, UseWeights
from longbreath.store.models.words import SavedView, SellingText

__all__ = [
    "ROLES",
    "Application",
    "Attachment",
    "AttachmentMark",
    "AuditEntry",
    "Bench",
    "BenchRange",
    "BenchSession",
    "BenchSheet",
    "Blob",
    "BlobPart",
    "BuildSheet",
    "CalendarKey",
    "Calibration",
    "CandidatePart",
    "CardPair",
    "CardTick",
    "CardVariant",
    "Cell",
    "CellBlock",
    "CellRun",
    "Certificate",
    "Channel",
    "Checklist",
    "Claim",
    "ClaimAct",
    "ClaimBundle",
    "ClaimRules",
    "ClaimSheet",
    "CoveredVehicle",
    "DifferenceReason",
    "DossierStamp",
    "Dyno",
    "DynoScatter",
    "DynoSession",
    "Element",
    "EngineStay",
    "Face",
    "FaceLay",
    "FactComment",
    "Fit",
    "FitSpot",
    "Fixture",
    "FuelBatch",
    "HealthEntry",
    "InstrumentAddress",
    "InstrumentLine",
    "InstrumentSample",
    "Kept",
    "KeptAnswer",
    "KeptWeighing",
    "KitSheet",
    "LadderRung",
    "LogRead",
    "OutsideTable",
    "Owed",
    "OwedLink",
    "PasswordLink",
    "PortingBout",
    "PortingJob",
    "PracticeRound",
    "Prediction",
    "PredictionScore",
    "PredictionSeal",
    "Product",
    "Pull",
    "PullCondition",
    "PullJudgement",
    "PullReading",
    "PullTrace",
    "RawFile",
    "Reading",
    "ReadingMark",
    "Revision",
    "Sample",
    "SavedView",
    "SecondLook",
    "SellingText",
    "Sensor",
    "SentForm",
    "SessionClosing",
    "SheetNote",
    "SignIn",
    "SignInTry",
    "SigningKey",
    "SizeReading",
    "SourceMapping",
    "StretchKnown",
    "Target",
    "TestCard",
    "TestEngine",
    "Trace",
    "Traverse",
    "TraversePoint",
    "Trial",
    "TuneFile",
    "TuningRound",
    "TypedPull",
    "UseWeights",
    "User",
    "Variant",
    "VariantPart",
    "Vehicle",
    "Verdict",
    "WheelSheet",
    "WorkTask",
]
