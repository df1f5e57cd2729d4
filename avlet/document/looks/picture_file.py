"""A picture's own file."""

from collections.abc import Callable
from typing import Annotated

import msgspec

from avlet.document.metadata import Value


class PictureFile(Value, frozen=True):
    """A picture's own file: its name, and its bytes (PNG, JPEG, WebP or SVG). In a package the bytes are a file of their own."""

    name: Annotated[str, msgspec.Meta(max_length=200)]
    data: bytes = b""


ChangePicture = Callable[[PictureFile], PictureFile]
"""What is made of each picture of a document."""
