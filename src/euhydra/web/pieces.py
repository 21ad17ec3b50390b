"""Parts of a page that are sent piece by piece, as they are worked out."""

from collections.abc import Iterator

from starlette.responses import StreamingResponse

END = "<!-- end -->"
"""After each piece but the last, which may have none."""

AS_IT_IS = {"content-encoding": "identity"}
"""Compressed such a page would wait until there is enough of it."""


def in_pieces(pieces: Iterator[str]) -> StreamingResponse:
    """Each piece as soon as it is there; it ends when nobody listens."""
    return StreamingResponse(pieces, media_type="text/html", headers=AS_IT_IS)
