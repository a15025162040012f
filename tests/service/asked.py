"""What may be asked, drawn from the API's own description: bodies and parameters that fit their schema, at and near its
ends."""

import json
from functools import cache

from hypothesis import strategies as st

from idle_comet.service.openapi import DESCRIPTION

API = json.loads(DESCRIPTION.read_text())
SCHEMAS = API["components"]["schemas"]
WORDS = st.text(st.characters(exclude_categories=["Cs"], exclude_characters="\0"), max_size=12) | st.sampled_from(
    ["", "bees", "Ágota हिन्दी", "\u2066x\u2069", "x" * 300, "😀👩‍🌾"]
)


def drawn(schema, named, depth=0):
    """A strategy for a schema. `named(name, schema)` gives one for a property of that name (for a dictionary's "keys"),
    or None to go by the schema."""
    if "$ref" in schema:
        return _ref(schema["$ref"].rsplit("/", 1)[-1], named, depth)
    if "const" in schema:
        return st.just(schema["const"])
    if "enum" in schema:
        return st.sampled_from(schema["enum"])
    for union in ("oneOf", "anyOf"):
        if union in schema:
            return st.one_of(*(drawn(each, named, depth) for each in schema[union]))
    sort = schema.get("type")
    if sort == "null":
        return st.none()
    if sort == "boolean":
        return st.booleans()
    if sort == "integer":
        low, high, step = (
            schema.get("minimum", schema.get("exclusiveMinimum", -(10**9) - 1) + 1),
            schema.get("maximum", 10**9),
            schema.get("multipleOf", 1),
        )
        whole = st.integers(low, min(high, low + 80)) | st.sampled_from([low, high]) | st.integers(low, high)
        return whole.map(lambda value: value - value % step)
    if sort == "number":
        low, high = schema.get("minimum", schema.get("exclusiveMinimum", -1e9)), schema.get("maximum", 1e9)
        low = low + 0.01 if "exclusiveMinimum" in schema else low
        return st.floats(max(low, -50), min(high, 50)) | st.sampled_from([low, high]) | st.floats(low, high)
    if sort == "string":
        return _string(schema)
    if sort == "array":
        return _array(schema, named, depth)
    if sort == "object" or "properties" in schema:
        return _object(schema, named, depth)
    return st.none() | st.integers() | WORDS


def _ref(name, named, depth):
    if depth > 6:
        # Deep enough: where the schema goes round in a circle, it ends here.
        return st.deferred(lambda: st.nothing())
    return st.deferred(lambda: drawn(SCHEMAS[name], named, depth + 1))


@cache
def _matching(pattern):
    return st.from_regex(pattern, fullmatch=True)


def _string(schema):
    if "pattern" in schema:
        return _matching(schema["pattern"]).filter(lambda text: len(text) <= schema.get("maxLength", 200))
    least, most = schema.get("minLength", 0), schema.get("maxLength", 500)
    return WORDS.map(lambda text: (text + "x" * least)[:most] if len(text) < least else text[:most])


def _array(schema, named, depth):
    least = schema.get("minItems", 0)
    if "prefixItems" in schema:
        return st.tuples(*(drawn(each, named, depth) for each in schema["prefixItems"])).map(list)
    each, most = drawn(schema.get("items", {}), named, depth), min(schema.get("maxItems", 3), least + 3)
    # Where the schema ends, so does what it holds.
    return st.deferred(
        lambda: st.just([]) if each.is_empty and not least else st.lists(each, min_size=least, max_size=most)
    )


def _object(schema, named, depth):
    fields, wanted = {}, {}
    for name, each in schema.get("properties", {}).items():
        known = named(name, each) if "enum" not in each and "const" not in each else None
        strategy = drawn(each, named, depth) if known is None else known
        (fields if name in schema.get("required", ()) or "const" in each else wanted)[name] = strategy
    made = st.fixed_dictionaries(fields, optional=wanted)
    extra = schema.get("additionalProperties")
    if extra and not schema.get("properties"):
        keys = drawn(schema["propertyNames"], named, depth) if "propertyNames" in schema else WORDS
        known = named("keys", schema)
        keys = keys if known is None else known | keys
        return st.dictionaries(
            keys,
            drawn(extra, named, depth) if isinstance(extra, dict) else st.integers(),
            min_size=schema.get("minProperties", 0),
            max_size=3,
        )
    return made
