"""How much of anything there may be. Generous for real work; what is beyond is refused in words with the number.

What a single property may be stands at that property.
"""

MOST_PARTS = 1_000
"""Parts of a template."""
MOST_DEPTH = 50
"""How deep groups, echoes and mattes lie within each other, all of them together."""
MOST_CHAINED = 300
"""How many parts follow each other in one chain: placed on, fitted around, waiting for each other."""
MOST_PAINTED = 200_000
"""Letters, copies and parts that are painted in one frame, with all that is round them, as often as they are painted."""
LAYER = 1_000
"""How many letters a soft matte, a matte by coverage or a group that is faded counts for: they need a layer of their own."""
SOFT_EACH = 0.02
"""How much more a shadow or a glow counts for each px of its blur, a letter being 1."""
BALL = 800
"""How many letters a ball in a space counts for."""
SOLID = 50
"""How many letters a letter or a copy counts for that is solid in a space."""
LAMP_SHARE = 0.6
"""How much more everything in a space counts for each lamp there: a lamp looks six ways for its shadows."""
MOST_COPIES = 4_000
"""Copies that one pattern has, however small its steps."""
MOST_LAMPS = 4
"""Lamps of one space: each throws shadows of its own."""
MOST_MATTES = 16
"""Mattes of one part."""
MOST_MOVES = 50
"""Moves of one way in, or out, of one part."""
MOST_WIRES = 1_000
"""Wires of a template."""
MOST_SECTIONS = 100
"""Sections of a card."""
MOST_FIELDS = 300
"""Fields and notes of a card."""
MOST_SAMPLES = 200
"""Samples of a template."""
MOST_LETTERS = 20_000
"""Letters of one text."""
MOST_WORDS = 10_000
"""Letters of a note, a hint, a category: of what is about a template, and not set in it."""

MOST_PX = 1_000_000.0
"""px that anything lies, moves or reaches from its place, where its property says nothing narrower."""
MOST_SIDE = 16_384
"""px of a side of a frame, a picture, a film."""
MOST_FRAME_PIXELS = 8_192 * 8_192
"""px of a frame, or of a film, in all."""
MOST_PICTURE_PIXELS = 120_000_000
"""px of a picture's file in all."""
MOST_SHAPES = 2_000
"""An outline is worked out of a drawing of at most so many shapes, and as many kilobytes."""
MOST_DRAWN = 50_000
"""Shapes of a drawing that is painted, those it refers to counted as often as they are painted."""
MOST_DRAWN_DEPTH = 200
"""How deep the shapes of a drawing lie in each other."""

MOST_FRAMES = 1_000_000
"""Frames of a title."""
MOST_MARKS = 200
"""Marks of a title."""
MOST_BLOCKS = 50_000
"""Blocks of a list of credits."""
MOST_LINES = 100_000
"""Lines of credits (names, headings, paragraphs) of one list, and of all lists of a template and its samples together."""
MOST_LIST_LETTERS = 4_000_000
"""Letters of the lines of credits."""
MOST_LIST_PICTURES = 32 * 1024**2
"""Bytes of pictures that a list's file or table names, each counted as often as it is named."""
MOST_ROWS = 50_000
"""Rows of a table below its heads."""
MOST_COLUMNS = 1_000
"""Columns of a table."""
MOST_CELLS = 500_000
"""Cells of a table that hold something."""
MOST_TABLE_LETTERS = 64 * 1024**2
"""Letters of all cells of a table, counted as often as they stand in it."""
MOST_CELL = 1_000_000
"""Letters of a cell of a table."""
MOST_PASTED = 500
"""Rows of a copied table that become titles on a cut at once."""
MOST_PROVED = 2_000
"""Rows of a table that are proved at once."""
MOST_CUT_FRAMES = 20_000_000
"""Frames of a cut."""
MOST_CUT_DEPTH = 60
"""How deep the pieces of a timeline's file lie in each other."""
MOST_FORMULA = 1_000
"""Letters of a formula."""

MOST_FILES = 2_000
"""Files in a package."""
MOST_PACKAGE = 256 * 1024**2
"""Bytes that a package unpacks to."""
MOST_DOCUMENT = 64 * 1024**2
"""Bytes of a ``template.json``, and of a cut."""
MOST_VALUES = 2_000_000
"""Values, lists and objects in a file of JSON, counted by the signs between them."""
MOST_THUMBNAIL = 4 * 1024**2
"""Bytes of a thumbnail, and of a manifest."""
MOST_FILE = 512 * 1024**2
"""Bytes of any other file that is read."""

SECONDS_OF_CHECKING = 8.0
"""Seconds of CPU that a check of a package may take; after three quarters of them it looks at no further sample, and says so."""
MOST_REEL = 200 * 1024**2
"""Bytes of all pictures of a reel."""
MOST_REEL_PICTURES = 3_000
"""Different pictures of a reel."""
SECONDS_OF_READING = 11.0
"""Seconds of CPU that reading a table may take."""
BYTES_OF_CHECKING = 850 * 1024**2
"""Bytes of memory that checking or reading may take."""

MOST_SERVED_BODY = 8 * 1024**2
"""Bytes of what a browser sends at once."""
MOST_SERVED_ROWS = 2_000
"""Rows of a table on a page."""
MOST_SENT_FILES = 128 * 1024**2
"""Bytes of pictures and lists that are kept for tables on pages."""
MOST_NAMED_FILES = 2_000
"""Files that a table on a page comes with."""
MOST_SERVED_SIDE = 1_920
"""px that a picture for a browser is wide."""
MOST_LOOKS_WAITING = 64
"""Pictures that browsers wait for at once; who comes then is asked to come again."""
MOST_FILMS_WAITING = 12
"""Films that wait to be made for browsers."""
MOST_KEPT_FOR_BROWSERS = 1024**3
"""Bytes of reels and films that are kept for browsers."""
