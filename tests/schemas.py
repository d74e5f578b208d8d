#!/usr/bin/python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""Holds every shipped JSON file against the JSON Schema of its kind (draft 2020-12, by the jsonschema library), with keys the
schema does not name counted as errors: a reader and its schema must not drift apart unnoticed."""
import copy, glob, json, os, sys

import jsonschema

ROOT = os.path.dirname(os.path.dirname(os.path.abspath(__file__)))


def strict(schema):
    """The schema with unknown keys refused everywhere."""
    if isinstance(schema, dict):
        if schema.get("type") == "object" and "properties" in schema:
            schema["additionalProperties"] = False
        for value in schema.values():
            strict(value)
    elif isinstance(schema, list):
        for value in schema:
            strict(value)
    return schema


def main():
    wrong = files = 0
    for path in sorted(glob.glob(f"{ROOT}/data/*/*.json") + glob.glob(f"{ROOT}/demo/**/*.kpeg", recursive=True) + glob.glob(f"{ROOT}/docs/examples/*.json")):
        with open(path, encoding="utf-8") as text:
            value = json.load(text)
        if "schema" not in value:
            continue
        kind = value["schema"].removeprefix("kitepeg.").split("/")[0]
        with open(f"{ROOT}/data/schemas/{kind}.schema.json", encoding="utf-8") as text:
            schema = json.load(text)
        jsonschema.Draft202012Validator.check_schema(schema)
        files += 1
        for error in jsonschema.Draft202012Validator(strict(copy.deepcopy(schema))).iter_errors(value):
            print(f"{os.path.relpath(path, ROOT)}: /{'/'.join(map(str, error.path))}: {error.message[:200]}")
            wrong += 1
    print(f"{files} files, {wrong} deviations")
    sys.exit(1 if wrong or files < 10 else 0)


if __name__ == "__main__":
    main()
