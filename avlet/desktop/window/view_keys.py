"""Keys that views have by themselves, by where they work: each view says its own, beside what it does with them."""

from collections.abc import Iterator


def view_keys() -> Iterator[tuple[str, str, str]]:
    """Where a key works, the key, and what it does."""
    from avlet.desktop.card.card_view import KEYS as OF_CARDS
    from avlet.desktop.credits.list_table import KEYS as OF_LISTS
    from avlet.desktop.credits.strip_view import KEYS as OF_STRIPS
    from avlet.desktop.desk.cut_view import KEYS as OF_CUTS
    from avlet.desktop.proof.sheet_view import KEYS as OF_SHEETS
    from avlet.desktop.roster.rows_view import KEYS as OF_ROWS
    from avlet.desktop.roster.threads_view import KEYS as OF_THREADS
    from avlet.desktop.stage.depth_views import KEYS as OF_DEPTHS
    from avlet.desktop.time.key_graph import KEYS as OF_GRAPHS
    from avlet.desktop.time.ruler_keys import KEYS as OF_RULERS
    from avlet.desktop.widgets.gradients import KEYS as OF_GRADIENTS
    from avlet.desktop.widgets.numbers import KEYS as OF_NUMBERS

    for where, keys in (
        ("Numbers", OF_NUMBERS), ("Gradients", OF_GRADIENTS), ("A space from above and the side", OF_DEPTHS), ("Proof", OF_SHEETS),
        ("Ruler", OF_RULERS), ("Graph of keys", OF_GRAPHS), ("Fields of the card", OF_CARDS), ("Desk", OF_CUTS),
        ("Roster", OF_ROWS), ("Threads of a roster", OF_THREADS), ("A list of credits", OF_LISTS),
        ("The long strip of credits", OF_STRIPS),
    ):  # fmt: skip
        yield from ((where, key, words) for key, words in keys)
