"""Arrays of coordinates that can be written as JSON and read from it."""

from __future__ import annotations

from typing import Annotated, Any

import numpy as np
from numpy.typing import NDArray
from pydantic import GetCoreSchemaHandler
from pydantic_core import CoreSchema, core_schema


class _AsLists:
    """Tells Pydantic to write an array as nested lists; the numbers come back bit for bit."""

    @classmethod
    def __get_pydantic_core_schema__(cls, _source: Any, _handler: GetCoreSchemaHandler) -> CoreSchema:
        return core_schema.no_info_plain_validator_function(
            lambda value: np.asarray(value, np.float64),
            serialization=core_schema.plain_serializer_function_ser_schema(lambda value: value.tolist()),
        )


Array = Annotated[NDArray[np.float64], _AsLists]
