"""The real window, as the tests of the application have it."""

from tests.app.conftest import answers, window

__all__ = ["answers", "window"]
