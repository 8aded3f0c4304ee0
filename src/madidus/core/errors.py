"""The one error that a wrong model raises."""

__all__ = ["ModelError"]


class ModelError(ValueError):
    """A model that cannot be computed: says which element, which field, what is wrong and what to do.

    Examples
    --------
    >>> raise ModelError("pipe P1", "length", "is 0 m", "type its length")
    Traceback (most recent call last):
    ...
    madidus.core.errors.ModelError: pipe P1, length: is 0 m; type its length
    """

    def __init__(self, element: str, field: str, problem: str, remedy: str):
        self.element, self.field, self.problem, self.remedy = element, field, problem, remedy
        super().__init__(f"{element}, {field}: {problem}; {remedy}")
