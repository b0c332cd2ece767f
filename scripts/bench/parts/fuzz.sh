# Every operation of docs/openapi.json asked with made-up values, for ten minutes at most.
python_with_venv
FUZZ=$TARGET/fuzz
if [ ! -x "$FUZZ/bin/schemathesis" ]; then
  step "Making a place for schemathesis" python3 -m venv "$FUZZ"
  step "Installing schemathesis" "$FUZZ/bin/pip" install --quiet "schemathesis==4.32.5"
fi
server_built
. scripts/bench/place.sh
demo_school
mkdir "$PLACE/runs"
PATH=$PG_BIN:$PATH node scripts/bench/fuzz.mjs "$FUZZ/bin/schemathesis" "$url" "$DATABASE_URL" "$PLACE/runs" "${FUZZ_SECONDS:-540}"
