#!/usr/bin/env bash
# Builds and serves as `./culvert serve` does, on a database of its own; asks it; ends it, and looks how it ended.
set -euo pipefail
cd "$(dirname "${BASH_SOURCE[0]}")/.."
export DATABASE_URL; DATABASE_URL=$(node --import tsx packages/server/src/database/fresh.ts culvert_served)
export PORT; PORT=$(node -e 'const s=require("net").createServer();s.listen(0,"127.0.0.1",()=>{console.log(s.address().port);s.close()})')
unset APP_DATABASE_URL CULVERT_CLOCK
log=$(mktemp)
./culvert serve > "$log" 2>&1 &
served=$!
trap 'kill "$served" 2>/dev/null || true; rm -f "$log"' EXIT
for _ in $(seq 1 300); do grep -q "ready:" "$log" && break; kill -0 "$served" 2>/dev/null || { cat "$log" >&2; exit 1; }; sleep 0.2; done
url="http://127.0.0.1:$PORT"
curl -sf "$url/api/session" | grep -q '"clients":\[\]'
curl -sf "$url/" | grep -q '<div id="root">'
curl -sf "$url/api/openapi.json" | grep -q '"openapi":"3.1.0"'
metrics=$(curl -sf "$url/api/metrics")
grep -q 'culvert_request_seconds_count{method="GET",path="/api/session",status="200"} 1' <<< "$metrics"
grep -q 'culvert_connections{state="idle"}' <<< "$metrics"
# No loader of the sources is in it.
if ps -eo args | grep "[p]ackages/server/dist/main.js" | grep -q tsx; then echo "served by a loader" >&2; exit 1; fi
kill -TERM "$served"
wait "$served" && status=0 || status=$?
[ "$status" = 143 ] || { echo "ended with $status" >&2; cat "$log" >&2; exit 1; }
! pgrep -f "packages/server/dist/main.js" > /dev/null
