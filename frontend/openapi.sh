#!/usr/bin/env bash
# Writes the schema of the API and the TypeScript types made from it.
set -euo pipefail
cd "$(dirname "$0")"
../.venv/bin/python -c "import json; from canonis.web.app import app; print(json.dumps(app.openapi(), indent=1, sort_keys=True))" >"${1:-src/api}/openapi.json"
npx openapi-typescript "${1:-src/api}/openapi.json" -o "${1:-src/api}/schema.d.ts" >/dev/null
