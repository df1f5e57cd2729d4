"""Everything that Avlet refuses, as one small tree. Each message is written for the person who reads it."""


class AvletError(Exception):
    """Base of all errors that are shown to a person: what happened, to which part, what to do."""


class DocumentError(AvletError):
    """A template, or an edit of one, does not hold together."""


class RelationError(DocumentError):
    """Parts relate to each other in a way that cannot be worked out: a circle, or a part that is gone."""


class AnswerError(AvletError):
    """An answer that its field does not accept."""


class FontError(AvletError):
    """A font file that cannot be read."""


class StorageError(AvletError):
    """A file or folder that cannot be read or written."""


class RenderError(AvletError):
    """A film or picture that cannot be made."""
