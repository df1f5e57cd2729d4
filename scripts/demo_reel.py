"""The show reel: a minute and a quarter of one programme, all of whose titles are of one family. What *Open the demo* shows."""

from avlet.document.cut import Cut, PictureClip, Title
from avlet.document.starts import FAMILIES
from avlet.document.template import Frame, Template

FAMILY = "Saltmarsh"
REEL = "show-reel.otio"
_LIST = [
    {"block": "heading", "text": "On the water"},
    {"block": "role", "role": "Marsh ecologist", "names": ["Odalys Brandt"]},
    {"block": "role", "role": "Sluice keepers", "names": ["Teodor Våge", "Íris Þórdal"]},
    {"block": "role", "role": "Boat builders", "names": ["Nkechi Arundel", "Bo Li"]},
    {"block": "role", "role": "Tide recorder", "names": ["渡辺 汐"]},
    {"block": "heading", "text": "At the desk"},
    {"block": "role", "role": "Edited by", "names": ["Maren Fenn"]},
    {"block": "role", "role": "Titles", "names": ["Wren Saltby"]},
    {"block": "heading", "text": "With thanks to"},
    {"block": "names", "names": ["Ioana Crețu-Whitlock", "Ulf Curlew", "Tomas Lindqvist", "The keepers of the north sluice"], "columns": 2},
]


def templates() -> dict[str, Template]:
    """The six of the family, by the names of their packages."""
    return {f"{FAMILY.lower()}-{kind}": make(Frame()) for kind, make in FAMILIES[FAMILY].items()}


def _title(title_id: str, kind: str, start: int, length: int, track: int = 0, /, **answers: object) -> Title:
    return Title(title_id, f"{FAMILY.lower()}-{kind}.avlet", start, length, answers, 1, track=track)


def reel() -> Cut:
    """Titles come a breath after their picture, and are gone a breath before it ends."""
    pictures = (
        PictureClip("dusk", 240), PictureClip("tide flats", 300), PictureClip("reed beds", 260), PictureClip("tide flats", 240, start=500),
        PictureClip("dusk", 230, start=300), PictureClip("reed beds", 250, start=400), PictureClip("dusk", 480, start=600),
    )  # fmt: skip
    titles = (
        _title("opening", "title", 38, 172, line="Saltmarsh Stories", title="The Long Tide"),
        _title("estuary", "place", 258, 105, place="Farrow Estuary, six in the morning"),
        _title("odalys", "name", 385, 135, role="Marsh ecologist", name="Odalys Brandt"),
        _title("hectares", "count", 570, 200, label="of reed bed restored since 2019", number=1284.0),
        _title("sluice", "place", 815, 100, 1, place="The north sluice"),
        _title("keepers", "name", 880, 140, role="Sluice keepers for thirty years", name="Teodor Våge and Íris Þórdal"),
        _title("ioana", "name", 1075, 165, role="Head of volunteer programmes, northern reaches", name="Ioana Crețu-Whitlock"),
        _title("watanabe", "name", 1300, 125, role="Tide recorder", name="渡辺 汐"),
        _title("year", "place", 1436, 78, 1, place="Seven years on"),
        _title("credits", "credits", 1520, 330, list=_LIST),
        _title("thanks", "sign-off", 1862, 125, thanks="Thank you for watching", next="farrow-estuary.example"),
    )
    return Cut("Saltmarsh Stories, show reel", Frame(1920, 1080, "25/1"), pictures, titles)
