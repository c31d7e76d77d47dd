"""Documents that older versions wrote without some keys."""

from __future__ import annotations

from typing import Any, ClassVar

from pydantic import GetJsonSchemaHandler, SerializerFunctionWrapHandler, model_serializer
from pydantic.json_schema import JsonSchemaValue
from pydantic_core import CoreSchema

from dramok.core.problem import Frozen


class Sparse(Frozen):
    """A part of the rules whose `added` keys are left out of its document while they have their default value.

    Older documents lack these keys: they stay byte for byte the same when they are read and written.
    """

    added: ClassVar[tuple[str, ...]] = ()

    @classmethod
    def __get_pydantic_json_schema__(cls, core_schema: CoreSchema, handler: GetJsonSchemaHandler) -> JsonSchemaValue:
        """The schema of the fields: that of any dict is what a serializer of its own would have."""
        found = core_schema
        while found["type"] == "function-after" or found["type"] == "function-before":
            found = found["schema"]
        return handler({key: value for key, value in found.items() if key != "serialization"})

    @model_serializer(mode="wrap")
    def _sparse(self, handler: SerializerFunctionWrapHandler) -> dict[str, Any]:
        fields = type(self).model_fields
        unsaid = {key for key in self.added if getattr(self, key) == fields[key].get_default(call_default_factory=True)}
        return {key: value for key, value in handler(self).items() if key not in unsaid}
