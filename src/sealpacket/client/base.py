"""The base of the generated models."""

from typing import Annotated, Any, TypeVar

from pydantic import (
    BaseModel,
    ConfigDict,
    ValidationError,
    ValidatorFunctionWrapHandler,
    WrapValidator,
)

T = TypeVar("T")


class FromService(BaseModel):
    """An answer of the service. Its validator is built when the first one comes: a command needs few of them."""

    model_config = ConfigDict(defer_build=True)


def _or_new(value: Any, known: ValidatorFunctionWrapHandler) -> Any:
    try:
        return known(value)
    except ValidationError:
        if isinstance(value, str):
            return value
        raise


Known = Annotated[T, WrapValidator(_or_new)]
"""A value of an enumeration. One that only a newer service knows passes as the text that it is."""
