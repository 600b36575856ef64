"""Words with their figures kept apart, and how figures are printed."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from decimal import ROUND_HALF_UP, Decimal

REL_TOLERANCE = 1e-9


def fits(load: float, capacity: float) -> bool:
    """Whether ``load`` is within ``capacity``, so that 40.0 A fits 40 A however it was reached."""
    # the plain comparison first: it settles most of the many thousand that a job asks
    return load <= capacity or load <= capacity + REL_TOLERANCE * max(abs(load), abs(capacity))


# the language of whoever reads, put in by what shows the texts: the core knows English alone
_translate: Callable[[str], str] = str


def translated_by(translate: Callable[[str], str]) -> None:
    """From now on every text is read through ``translate``, which gets a template or a word."""
    global _translate
    _translate = translate


def told(words: str) -> str:
    """Words of the program, a choice's label for instance, in the language of whoever reads."""
    return _translate(words) if words else ""


@dataclass(frozen=True, slots=True)
class Text:
    """Words with the figures kept apart from them: ``Text("{n} dryers", {"n": 5})``.

    As ``str`` it is in the language of whoever reads.
    """

    template: str
    given: Mapping[str, object] = field(default_factory=dict)

    @property
    def params(self) -> dict[str, str]:
        """The figures as printed: grouped, without needless decimals."""
        return {name: figure(value) for name, value in self.given.items()}

    @property
    def in_english(self) -> str:
        """As the program itself writes it, whoever reads."""
        return self.template.format(**self.params)

    def __str__(self) -> str:
        return told(self.template).format(**self.params)


def say(template: str, **params: object) -> Text:
    """A :class:`Text`. Figures are printed when it is read: most texts of a job never are."""
    return Text(template, params)


NUMBERS = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten")


def words(count: float) -> str:
    """A small whole number in words, as a sentence has it: ``4.0`` → ``four``."""
    small = 0 <= count < len(NUMBERS) and count == int(count)
    return NUMBERS[int(count)] if small else f"{count:g}"


def signed(percent: float) -> str:
    """A percent with its sign and one decimal, nothing as ``+0.0``."""
    return f"{round(percent, 1) + 0.0:+.1f}"


FURTHER_DIGITS = 2


def figure_beside(value: float, limit: float, digits: int = 2) -> str:
    """A figure that stands beside its limit, with more digits where it would read as the limit and
    is not: 5.04 % above the 5 % that may be, never "5 %, above 5 %"."""
    told = figure(value, digits)
    if not (fits(value, limit) and fits(limit, value)):
        for more in range(1, FURTHER_DIGITS + 1):
            if told != figure(limit, digits):
                break
            told = figure(value, digits + more)
    return told


@dataclass(frozen=True, slots=True)
class Rounded:
    """A figure with so many ``digits`` in a :class:`Text`, printed when it is read. ``limit`` is
    what it stands beside, and is told apart from."""

    value: float
    digits: int
    limit: float | None = None

    def __str__(self) -> str:
        if self.limit is None:
            return figure(self.value, self.digits)
        return figure_beside(self.value, self.limit, self.digits)


def figure(value: object, digits: int = 2) -> str:
    """A number as the trade writes it: ``18600.0`` → ``18,600``; ``0.75`` → ``0.75``."""
    if isinstance(value, bool) or not isinstance(value, int | float):
        return str(value)
    whole = float(value)
    if whole.is_integer() and abs(whole) < 1e15:
        return f"{int(whole):,}"
    if not abs(whole) < 1e15:  # beyond any rating: typed by mistake, and more digits than fit
        return f"{whole:.3g}"
    # halves go up, as on paper; Python's own formatting takes them to the even figure
    exact = Decimal(repr(float(value))).quantize(Decimal(1).scaleb(-digits), ROUND_HALF_UP)
    exact += 0  # nothing has no sign
    text = f"{exact:,f}"
    return text.rstrip("0").rstrip(".") if "." in text else text
