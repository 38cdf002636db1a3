"""The base of the generated models."""

from pydantic import BaseModel, ConfigDict


class FromService(BaseModel):
    """An answer of the service. Its validator is built when the first one comes: a command needs few of them."""

    model_config = ConfigDict(defer_build=True)
