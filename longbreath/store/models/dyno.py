"""Dynos, test cards and the sessions held on them."""

from __future__ import annotations

from datetime import date
from typing import TYPE_CHECKING, Any

from sqlalchemy import CheckConstraint, ForeignKey
from sqlalchemy.orm import Mapped, mapped_column, relationship

from longbreath.store.base import Audited, Base, Versioned
from longbreath.store.models.library import Application, Vehicle
from longbreath.store.models.plan import CardPair, CardVariant
from longbreath.store.models.shop import Cell

if TYPE_CHECKING:
    from longbreath.store.models.pulls import Pull, RawFile, TypedPull


FILLED_OVER_DAYS = ("factorial", "series")
"""Designs of which each session fills what the others left."""


class Dyno(Audited, Versioned, Base):
    """A dyno: what kind, where it measures, what it logs, when its calibration lapses, and how well it repeats."""

    __tablename__ = "dyno"
    __mapper_args__ = {"version_id_col": Versioned.version}  # noqa: RUF012
    __table_args__ = (
        CheckConstraint("measured_at in ('wheel', 'crank')", name="measured_at"),
        CheckConstraint("kind in ('', 'roller inertia', 'roller with brake', 'hub', 'engine')", name="kind"),
        CheckConstraint(
            "fitting_repeatability is null or (fitting_repeatability > 0 and fitting_freedom > 0)", name="fitting"
        ),
    )
    audit_noun = "dyno"
    audit_shared = True

    name: Mapped[str] = mapped_column(unique=True)
    measured_at: Mapped[str]
    kind: Mapped[str] = mapped_column(default="", comment="roller inertia, roller with brake, hub, engine, or not said")
    channels: Mapped[str] = mapped_column(default="", comment="what it logs beside speed and torque")
    calibrated_on: Mapped[date | None]
    calibration_due: Mapped[date | None]
    cell_id: Mapped[int | None] = mapped_column(ForeignKey("cell.id"))
    roller_inertia: Mapped[float | None] = mapped_column(comment="kg m2, of rollers and what turns with them")
    roller_radius: Mapped[float | None] = mapped_column(comment="m")
    device_url: Mapped[str] = mapped_column(default="", comment="where it answers live")
    logger_url: Mapped[str] = mapped_column(default="", comment="where the logger beside it answers")
    weather_url: Mapped[str] = mapped_column(default="", comment="where the weather station of its cell answers")
    repeatability: Mapped[float] = mapped_column(comment="N m, standard deviation of band-mean torque, pull to pull")
    repeatability_source: Mapped[str]
    fitting_repeatability: Mapped[float | None] = mapped_column(
        comment="N m, standard deviation from set to set, the part off and on again"
    )
    fitting_freedom: Mapped[int] = mapped_column(default=0, comment="degrees of freedom behind it: sets less one")
    cell: Mapped[Cell | None] = relationship(lazy="joined")


class TestCard(Audited, Versioned, Base):
    """The plan of a test: what is compared, in which order, what is held, where the operator stops, who brings what.

    A card with pulls is frozen; what is written next is another card that follows it.
    """

    __tablename__ = "test_card"
    __test__ = False
    __mapper_args__ = {"version_id_col": Versioned.version}  # noqa: RUF012
    __table_args__ = (
        CheckConstraint("pulls_per_set between 2 and 12", name="pulls_per_set"),
        CheckConstraint("no_matter between 0.001 and 0.03", name="no_matter"),
        CheckConstraint("design in ('alternation', 'ladder', 'factorial', 'series', 'tuning')", name="design"),
        CheckConstraint("tune_mode in ('', 'one tune', 'same mixture', 'out of the box')", name="tune_mode"),
        CheckConstraint(
            "control_mode in ('', 'boost free', 'equal boost', 'equal back pressure')", name="control_mode"
        ),
    )
    audit_noun = "test card"

    application_id: Mapped[int] = mapped_column(ForeignKey("application.id"), index=True)
    follows_id: Mapped[int | None] = mapped_column(
        ForeignKey("test_card.id"), comment="the card it is the next version of"
    )
    number: Mapped[int] = mapped_column(default=1, comment="its version in the dossier, from 1")
    dyno_id: Mapped[int] = mapped_column(ForeignKey("dyno.id"))
    design: Mapped[str] = mapped_column(default="alternation")
    sets: Mapped[list[Any]] = mapped_column(default=list, comment="letter and number of pulls of each set, in order")
    factors: Mapped[list[Any]] = mapped_column(default=list, comment="name, minutes, levels of each factor")
    held: Mapped[str] = mapped_column(comment="what is kept the same")
    also_changed: Mapped[str] = mapped_column(comment="what else differs between the variants, or 'nothing'")
    tune_mode: Mapped[str] = mapped_column(default="")
    control_mode: Mapped[str] = mapped_column(default="")
    pulls_per_set: Mapped[int] = mapped_column(default=3)
    effect_wanted: Mapped[float] = mapped_column(comment="N m, smallest gain worth finding")
    no_matter: Mapped[float] = mapped_column(
        default=0.01, comment="share of A below which a difference does not matter"
    )
    mixture_target: Mapped[float | None] = mapped_column(comment="lambda")
    mixture_tolerance: Mapped[float] = mapped_column(default=0.03, comment="lambda")
    limits: Mapped[dict[str, Any]] = mapped_column(
        default=dict, comment="where the operator stops, SI or words by name"
    )
    window: Mapped[dict[str, Any]] = mapped_column(
        default=dict, comment="temperatures [K] at the start of each pull, by name"
    )
    times: Mapped[dict[str, Any]] = mapped_column(
        default=dict, comment="minutes of a pull, cool-down, swap …; margin [1]"
    )
    brings: Mapped[list[Any]] = mapped_column(default=list, comment="who, what")
    consumables: Mapped[str] = mapped_column(default="", comment="gaskets and fluids, with torque values to look up")
    checklist: Mapped[list[Any]] = mapped_column(default=list, comment="lines to tick before the first pull")
    dyno: Mapped[Dyno] = relationship(lazy="joined")
    variants: Mapped[list[CardVariant]] = relationship(order_by="CardVariant.id", lazy="selectin")
    pairs: Mapped[list[CardPair]] = relationship(order_by="CardPair.id", lazy="selectin")

    @property
    def order(self) -> list[str]:
        """The planned letters, one per pull."""
        return [letter for letter, pulls in self.sets for _ in range(pulls)]

    @property
    def letters(self) -> list[str]:
        """The letters it compares, in order."""
        return [v.letter for v in self.variants]

    @property
    def is_filled_over_days(self) -> bool:
        """Whether its sessions count together: each fills what the others left."""
        return self.design in FILLED_OVER_DAYS

    def called(self, letter: str) -> str:
        """What stands under a letter, as it was when the card was written."""
        return next((v.called for v in self.variants if v.letter == letter), "")

    def pair_of(self, application_id: int) -> tuple[str, str]:
        """The letters of stock part and product of a dossier that it serves; the second is empty where it compares something else:
        such pulls are no evidence for the part."""
        return next(((p.a, p.b) for p in self.pairs if p.application_id == application_id), ("A", "B"))

    def planned_pair(self, application_id: int) -> tuple[str, str]:
        """The letters a promise is made for: the pair of a dossier, or the first two where the card does not compare its part."""
        a, b = self.pair_of(application_id)
        return (a, b) if b else (self.letters[0], self.letters[1])

    @property
    def title(self) -> str:
        """Its design in one word or as letters: A-B-A."""
        if self.design in ("alternation", "ladder"):
            return "-".join(letter for letter, _ in self.sets)
        return f"{self.design} of {len(self.letters)}"

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return self.title


class DynoSession(Audited, Versioned, Base):
    """A visit: weather, correction standard, gear. The standard is chosen once and printed with every figure."""

    __tablename__ = "dyno_session"
    __mapper_args__ = {"version_id_col": Versioned.version}  # noqa: RUF012
    audit_noun = "dyno session"

    application_id: Mapped[int] = mapped_column(ForeignKey("application.id"), index=True)
    card_id: Mapped[int] = mapped_column(ForeignKey("test_card.id"))
    held_on: Mapped[date]
    temperature: Mapped[float] = mapped_column(comment="K")
    pressure: Mapped[float] = mapped_column(comment="Pa, station")
    humidity: Mapped[float] = mapped_column(comment="share of one")
    standard: Mapped[str]
    already_corrected: Mapped[bool] = mapped_column(default=False, comment="the files carry corrected figures")
    gear: Mapped[str] = mapped_column(default="")
    engine_id: Mapped[int | None] = mapped_column(ForeignKey("test_engine.id"), comment="test engine, where it was one")
    fuel_id: Mapped[int | None] = mapped_column(ForeignKey("fuel_batch.id"))
    application: Mapped[Application] = relationship()
    card: Mapped[TestCard] = relationship(lazy="joined")
    pulls: Mapped[list[Pull]] = relationship(back_populates="session", order_by="Pull.sequence")
    files: Mapped[list[RawFile]] = relationship(back_populates="session", order_by="RawFile.id")
    typed: Mapped[list[TypedPull]] = relationship(back_populates="session", order_by="TypedPull.id")

    @property
    def application_vehicle(self) -> Vehicle:
        """The vehicle it is pulled on."""
        return self.application.vehicle

    @property
    def full_pulls(self) -> list[Pull]:
        """Its full pulls; steady points and idle have verdicts of their own."""
        return [pull for pull in self.pulls if pull.kind == "sweep"]

    @property
    def audit_title(self) -> str:
        """Its name in the log."""
        return f"of {self.held_on:%d %b %Y}"
