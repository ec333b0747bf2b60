"""The one root of errors raised by the core.

An error carries the path of the thing, the rule it broke and what was got, so that the web can word its own sentence.
"""

from __future__ import annotations


class TideflatError(Exception):
    """Root of every error the core raises on purpose."""


class FieldError(TideflatError):
    """A value that breaks a rule: ``path: must RULE (got VALUE)``, always one line."""

    def __init__(self, path: str, rule: str, got: object = None, *, show_got: bool = True) -> None:
        self.path = path
        self.rule = rule
        self.got = got
        self.show_got = show_got
        text = f"{path}: {rule}"
        if show_got:
            text += f" (got {brief_repr(got)})"
        super().__init__(text)

    def at(self, prefix: str) -> FieldError:
        """The same error, seen from a document in which ``prefix`` holds the thing."""
        moved = type(self).__new__(type(self))
        moved.__dict__.update(self.__dict__)
        FieldError.__init__(moved, f"{prefix}.{self.path}" if prefix else self.path, self.rule, self.got, show_got=self.show_got)
        return moved


class LockedError(FieldError):
    """An act that would move what is locked. ``name``: what is locked."""

    def __init__(self, path: str, name: str, placement_id: str) -> None:
        self.name = name
        super().__init__(path, f"must not move {name} ({placement_id}), which is locked; unlock it first", show_got=False)


class DocumentError(FieldError):
    """A scene document that cannot be read."""


class OpticsError(FieldError):
    """A camera or lens that no optics can make."""


def brief_repr(value: object, limit: int = 60) -> str:
    """``value`` as JSON people know it, on one line of at most ``limit`` characters."""
    if value is None:
        return "null"
    if value is True or value is False:
        return str(value).lower()
    if isinstance(value, dict):
        return f"an object of {len(value)} keys"
    if isinstance(value, list | tuple):
        return f"a list of {len(value)}"
    if isinstance(value, int) and abs(value) > 10**20:
        return "a number of more than 20 digits"
    text = repr(value)
    text = "".join(ch if ch.isprintable() else "?" for ch in text)
    return text if len(text) <= limit else text[: limit - 3] + "..."
