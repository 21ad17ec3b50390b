"""The page for bright sun: black on white, lines and words at seven to one. Kept by the device that asks for it."""

from typing import Annotated

from fastapi import APIRouter, Form, Request
from starlette.responses import RedirectResponse, Response

from euhydra.web.gate import own_path

router = APIRouter()

COOKIE = "contrast"
MORE = "more"
A_YEAR = 365 * 24 * 3600
"""For how long a device remembers it. [s]"""


def is_more(request: Request) -> bool:
    """Whether this device asked for it."""
    return request.cookies.get(COOKIE) == MORE


@router.post("/contrast", name="switch_contrast")
def switch_contrast(request: Request, back: Annotated[str, Form(max_length=500)] = "/") -> Response:
    """On if it is off, off if it is on; back to the page that it was asked on."""
    answer = RedirectResponse(own_path(back), 303)
    if is_more(request):
        answer.delete_cookie(COOKIE)
    else:
        answer.set_cookie(COOKIE, MORE, max_age=A_YEAR, httponly=True, samesite="strict")
    return answer
