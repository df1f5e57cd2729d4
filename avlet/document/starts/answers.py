"""Made-up answers of the demo's world, so that samples say something from the first moment."""

SAMPLES = (("shortest", "Shortest"), ("typical", "Typical"), ("longest", "Longest"), ("two-lines", "Two lines"))
"""The samples that a new template begins with."""

PEOPLE = {
    "shortest": "Bo Li",
    "typical": "Odalys Brandt",
    "longest": "Ioana Crețu-Whitlock",
    "two-lines": "Teodor Våge and\nNkechi Arundel",
}
FIRST_NAMES = {"shortest": "Bo", "typical": "Odalys", "longest": "Ioana Maria", "two-lines": "Teodor Våge and\nNkechi"}
FAMILY_NAMES = {"shortest": "Li", "typical": "Brandt", "longest": "Crețu-Whitlock", "two-lines": "Arundel"}
ROLES = {
    "shortest": "Ringer", "typical": "Marsh ecologist", "longest": "Head of volunteer programmes, northern reaches",
    "two-lines": "Sluice keeper,\nboat builder",
}  # fmt: skip
TITLES = {
    "shortest": "Ebb",
    "typical": "The Long Tide",
    "longest": "Where the River Lets Go",
    "two-lines": "The Keepers of\nthe North Sluice",
}
LINES = {
    "shortest": "Six", "typical": "Episode one", "longest": "Saltmarsh Stories · Episode twenty-three", "two-lines": "Episode\nnine",
}  # fmt: skip
PLACES = {
    "shortest": "Ise",
    "typical": "Farrow Estuary",
    "longest": "Northern Reaches, Upper Sluice",
    "two-lines": "Farrow Estuary,\nlow water",
}
EPISODES = {
    "shortest": "Ebb", "typical": "The Long Tide", "longest": "Where the River Lets Go of the Land",
    "two-lines": "The Keepers of\nthe North Sluice",
}  # fmt: skip
WHAT_IS_COUNTED = {
    "shortest": "so far", "typical": "of reed bed restored since 2019", "longest": "of reed bed, creek and mudflat restored since 2019",
    "two-lines": "of reed bed\nrestored since 2019",
}  # fmt: skip
THANKS = {
    "shortest": "Thanks", "typical": "Thank you for watching", "longest": "Thank you for watching, and for walking the sea wall with us",
    "two-lines": "Thank you\nfor watching",
}  # fmt: skip
WHERE_NEXT = {
    "shortest": "Tides", "typical": "farrow-estuary.example", "longest": "farrow-estuary.example/saltmarsh-stories",
    "two-lines": "farrow-estuary\n.example",
}  # fmt: skip
