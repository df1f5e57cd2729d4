"""OpenType features by plain names (https://learn.microsoft.com/typography/opentype/spec/featurelist)."""

_NAMES = {
    "liga": "ligatures", "dlig": "rare ligatures", "clig": "joined forms", "calt": "forms by context", "kern": "kerning",
    "tnum": "tabular figures", "pnum": "proportional figures", "lnum": "lining figures",
    "onum": "old-style figures", "zero": "slashed zero",
    "frac": "fractions", "sups": "superscript", "subs": "subscript", "ordn": "ordinals", "smcp": "small capitals",
    "c2sc": "capitals to small",
    "case": "forms for capitals", "cpsp": "capital spacing", "salt": "other forms", "swsh": "swashes", "titl": "titling",
    "hist": "historical",
    "sinf": "scientific inferiors", "palt": "proportional widths",
}  # fmt: skip
ON_BY_ITSELF = ("liga", "clig", "calt", "kern")
"""Features that are on unless they are switched off."""


def is_chosen(tag: str) -> bool:
    """Whether a feature is one that people choose, not one that a script needs to be readable."""
    return tag in _NAMES or (tag[:2] in ("ss", "cv") and tag[2:].isdigit())


def name_of_feature(tag: str) -> str:
    """The plain name of a feature's tag."""
    if tag in _NAMES:
        return _NAMES[tag]
    number = int(tag[2:])
    return f"stylistic set {number}" if tag.startswith("ss") else f"letter variant {number}"
