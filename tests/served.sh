#!/usr/bin/env bash
# Builds and serves as `./culvert serve` does, on a database of its own; begins as a new user would; asks it; ends it, and looks how it ended.
set -euo pipefail
cd "$(dirname "${BASH_SOURCE[0]}")/.."
export DATABASE_URL; DATABASE_URL=$(node --import tsx packages/server/src/database/fresh.ts culvert_served)
export PORT; PORT=$(node -e 'const s=require("net").createServer();s.listen(0,"127.0.0.1",()=>{console.log(s.address().port);s.close()})')
unset APP_DATABASE_URL CULVERT_CLOCK CULVERT_DEMO SMTP_URL
log=$(mktemp) jar=$(mktemp)
./culvert serve > "$log" 2>&1 &
served=$!
trap 'kill "$served" 2>/dev/null || true; rm -f "$log" "$jar"' EXIT
for _ in $(seq 1 300); do grep -q "ready:" "$log" && break; kill -0 "$served" 2>/dev/null || { cat "$log" >&2; exit 1; }; sleep 0.2; done
url="http://127.0.0.1:$PORT"
# What the server gives as cookies is sent back by hand: the jar of this tool keeps none that is for safe connections alone.
cookies() { grep -i '^set-cookie:' "$1" | sed 's/^[^:]*: //; s/;.*//' | tr -d '\r' | paste -sd ';' -; }
asks() { curl -s -H 'content-type: application/json' -H 'x-culvert: test' -H "cookie: ${cookie:-}" "$@"; }
curl -sf "$url/" | grep -q '<div id="root">'
# Nobody is let in but by the link that it printed, once.
asks "$url/api/session" | grep -q not_signed_in
asks "$url/api/sign-in" | grep -q '"demo":\[\]'
link=$(sed -n 's/.*first: \(http[^ ]*\).*/\1/p' "$log")
token=${link#*#}
begun="{\"token\":\"$token\",\"name\":\"Nell Brack\",\"email\":\"nell@practice.example\",\"practice\":\"Brack and Daughter\",\"password\":\"a-boat-on-the-corrib\"}"
asks -f -D "$jar" -d "$begun" "$url/api/invitations/accept" | grep -q '{}'
cookie=$(cookies "$jar")
asks -d "$begun" "$url/api/invitations/accept" | grep -q link_spent
asks "$url/api/session" | grep -q '"practice":{"name":"Brack and Daughter","role":"owner"'
asks "$url/api/session" | grep -q '"clients":\[\]'
asks "$url/api/openapi.json" | grep -q '"openapi":"3.1.0"'
# A colleague is invited, and sees what is theirs: nothing yet.
invited=$(asks -f -d '{"email":"sam@practice.example","role":"junior"}' "$url/api/people/invite")
grep -q '"mailed":false' <<< "$invited"
token=$(sed 's/.*#\([A-Za-z0-9_-]*\).*/\1/' <<< "$invited")
owner=$cookie cookie=''
asks -f -D "$jar" -d "{\"token\":\"$token\",\"name\":\"Sam Brack\",\"password\":\"two-oars-and-a-bucket\"}" "$url/api/invitations/accept" > /dev/null
cookie=$(cookies "$jar")
asks "$url/api/session" | grep -q '"role":"junior"'
asks "$url/api/people" | grep -q may_not
cookie=$owner
metrics=$(asks -f "$url/api/metrics")
grep -q 'culvert_request_seconds_count{method="GET",path="/api/session",status="200"} ' <<< "$metrics"
grep -q 'culvert_connections{state="idle"}' <<< "$metrics"
# No loader of the sources is in it.
if ps -eo args | grep "[p]ackages/server/dist/main.js" | grep -q tsx; then echo "served by a loader" >&2; exit 1; fi
kill -TERM "$served"
wait "$served" && status=0 || status=$?
[ "$status" = 143 ] || { echo "ended with $status" >&2; cat "$log" >&2; exit 1; }
! pgrep -f "packages/server/dist/main.js" > /dev/null
