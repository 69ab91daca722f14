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
from longbreath.store.models.claim import Claim, ClaimAct, ClaimSheet
from longbreath.store.models.dyno import (
    Channel,
    Dyno,
    DynoSession,
    Pull,
    PullJudgement,
    RawFile,
    SourceMapping,
    TestCard,
)
from longbreath.store.models.geometry import Face, FaceLay, Fit, FitSpot, LadderRung, WheelSheet
from longbreath.store.models.instrument import InstrumentAddress, InstrumentLine, InstrumentSample
from longbreath.store.models.library import Application, Product, Revision, Vehicle
from longbreath.store.models.path import Element, SizeReading
from longbreath.store.models.people import ROLES, AuditEntry, PasswordLink, SentForm, SignIn, SignInTry, User
from longbreath.store.models.port import PortingBout, PortingJob, Traverse, TraversePoint
from longbreath.store.models.reckon import (
    CandidatePart,
    KeptAnswer,
    Prediction,
    PredictionScore,
    PredictionSeal,
    Target,
)
from longbreath.store.models.record import Attachment, AttachmentMark, BuildSheet, DifferenceReason
from longbreath.store.models.verdict import Verdict

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
    "BuildSheet",
    "Calibration",
    "CandidatePart",
    "Channel",
    "Claim",
    "ClaimAct",
    "ClaimSheet",
    "DifferenceReason",
    "Dyno",
    "DynoSession",
    "Element",
    "Face",
    "FaceLay",
    "Fit",
    "FitSpot",
    "Fixture",
    "InstrumentAddress",
    "InstrumentLine",
    "InstrumentSample",
    "KeptAnswer",
    "LadderRung",
    "PasswordLink",
    "PortingBout",
    "PortingJob",
    "Prediction",
    "PredictionScore",
    "PredictionSeal",
    "Product",
    "Pull",
    "PullJudgement",
    "RawFile",
    "Reading",
    "ReadingMark",
    "Revision",
    "SentForm",
    "SignIn",
    "SignInTry",
    "SizeReading",
    "SourceMapping",
    "Target",
    "TestCard",
    "Trace",
    "Traverse",
    "TraversePoint",
    "User",
    "Vehicle",
    "Verdict",
    "WheelSheet",
]
