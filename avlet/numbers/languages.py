"""Languages in which numbers are written: all that ICU knows, by their names."""

import functools
import re

import icu

USUAL = (
    "en", "en_GB", "cy", "ga", "de", "de_AT", "de_CH", "fr", "fr_CA", "fr_CH", "nl", "da", "nb", "sv", "fi", "is", "es", "es_MX",
    "ca", "pt", "pt_BR", "it", "it_CH", "ro", "pl", "cs", "sk", "hu", "sl", "hr", "sr", "bg", "el", "tr", "ru", "uk", "lt", "lv",
    "et", "ar", "ar_EG", "he", "fa", "ur", "hi", "mr", "bn", "ta", "th", "id", "vi", "zh", "zh_Hant", "ja", "ko", "sw",
)  # fmt: skip
"""What is offered first; any other that ICU knows may be given by its code."""
ENGLISH = "en"
_CODE = re.compile(r"[A-Za-z]{2,8}([_-][A-Za-z0-9]{2,8}){0,4}")
"""What looks like a code; ICU is asked of nothing else, as it does not take all words calmly."""


@functools.cache
def known() -> frozenset[str]:
    """The codes of all languages that there are rules for."""
    return frozenset(icu.Locale.getAvailableLocales())


def is_known(language: str) -> bool:
    """Whether there are rules for a language, by its code as CLDR has it (``de_CH``, also ``de-CH``)."""
    return _canonical(language) in known()


def _canonical(code: str) -> str:
    """A code as ICU writes it; empty for what is none."""
    return str(icu.Locale(code.replace("-", "_")).getName()) if _CODE.fullmatch(code) else ""


def language_name(language: str) -> str:
    """Its name in English, *German (Austria)*, or the code where it has none."""
    return str(icu.Locale(_canonical(language)).getDisplayName(icu.Locale(ENGLISH))) if is_known(language) else language


def by_name(words: str) -> str | None:
    """The code of a language that is given by its code or by its English name; None when there is none."""
    wanted = words.strip()
    if is_known(wanted):
        return _canonical(wanted)
    return next((code for code in (*USUAL, *sorted(known())) if language_name(code).casefold() == wanted.casefold()), None)


def machine_language() -> str:
    """The language that this machine is set to; English where it is set to none."""
    found = icu.Locale.getDefault()
    name, language = str(found.getName()), str(found.getLanguage())
    if "POSIX" in name or not is_known(language):
        return ENGLISH
    return name if name in known() else language
