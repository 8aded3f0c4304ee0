"""Sets a large document in a process of its own: its memory goes back when it is done, and it can be stopped."""

import pickle
import subprocess
import sys
from collections.abc import Callable, Mapping

import typst

__all__ = ["set_here", "typeset_separately"]

_LOOK = 0.2  # s between looks whether it is still wanted


def set_here(files: Mapping[str, bytes], standards: list[str], stamp: int) -> bytes:
    """A PDF of a document and the files that it reads. stamp : s since 1970 of its making.

    A letter that no font here has is set as an empty box: that is no PDF/UA, but every page is there.
    """
    given, held = dict(files), [standards] if standards == [] else [standards, []]
    for k, asked in enumerate(held):
        try:
            content = typst.compile(given, format="pdf", pdf_standards=asked, timestamp=stamp)  # type: ignore[call-overload]
            assert isinstance(content, bytes)
            return content
        except typst.TypstError:
            if k == len(held) - 1:
                raise
    raise AssertionError("one of both was set")


def typeset_separately(
    files: Mapping[str, bytes], standards: list[str], stamp: int, wanted: Callable[[], None]
) -> bytes:
    """The same in a process of its own. wanted : is called while it works, and raises to stop it.

    Raises
    ------
    RuntimeError
        When that process ends without a document.
    """
    command = [sys.executable, "-m", __name__]
    with subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.PIPE) as process:
        try:
            given: bytes | None = pickle.dumps((dict(files), standards, stamp))
            while True:
                try:
                    content, said = process.communicate(given, timeout=_LOOK)
                    break
                except subprocess.TimeoutExpired:
                    given = None
                    wanted()
        except BaseException:
            process.kill()
            raise
    if process.returncode != 0:
        last = said.decode(errors="replace").strip().splitlines()[-1:]
        raise RuntimeError(f"the typesetter ended with {process.returncode}: {' '.join(last)}")
    return content


if __name__ == "__main__":
    sys.stdout.buffer.write(set_here(*pickle.loads(sys.stdin.buffer.read())))
