"""Start the installed program's demo, and ask it for pages, a style and a file."""

import socket
import subprocess
import sys
import tempfile
import time
import urllib.error
import urllib.request

PAGES = ("/", "/gardens/1/catch", "/gardens/1/lay", "/gardens/1/labels", "/gardens/1/build")
PIECES = ("/static/css/app.css", "/static/manifest.webmanifest", "/gardens/1/plan.svg")


def main(command: str) -> None:
    """Ask for everything, or fail saying what did not come."""
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    with tempfile.TemporaryDirectory() as data:
        words = [command, "demo", "--data", data, "--port", str(port)]
        with subprocess.Popen(words) as server:
            try:
                _wait(server, f"http://127.0.0.1:{port}/")
                for path in (*PAGES, *PIECES):
                    with urllib.request.urlopen(f"http://127.0.0.1:{port}{path}") as answer:
                        assert answer.status == 200, path
                        assert len(answer.read()) > 500, path
            finally:
                server.terminate()
    print("the wheel serves its demo by itself")


def _wait(server: subprocess.Popen[bytes], url: str) -> None:
    for _ in range(300):
        assert server.poll() is None, "the program ended"
        try:
            urllib.request.urlopen(url).close()
            return
        except urllib.error.URLError:
            time.sleep(0.1)
    raise AssertionError("the program does not answer")


main(sys.argv[1])
