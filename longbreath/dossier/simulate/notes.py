"""What a dossier does not say: what must still be measured, and what was assumed meanwhile."""

from __future__ import annotations

from dataclasses import dataclass, field


@dataclass
class Notes:
    """Sentences gathered while a case is put together: what is missing, and what was assumed."""

    missing: list[str] = field(default_factory=list)
    assumed: list[str] = field(default_factory=list)

    def lacks(self, words: str) -> None:
        """Note something without which the case cannot run."""
        self.missing.append(words)

    def assumes(self, words: str) -> None:
        """Note something that was taken without being measured."""
        self.assumed.append(words)
