#!/usr/bin/env bash
# A check that finds nothing proves nothing: plants imports that the layer rules forbid and wants each refused.
set -euo pipefail
cd "$(dirname "${BASH_SOURCE[0]}")/.."
planted=()
trap 'rm -f "${planted[@]}"' EXIT
plant() { planted+=("$1"); cat > "$1"; }
refused() { # refused CONFIG RULE...
  local config=$1 report rule; shift
  report=$(npx depcruise --config "$config" --output-type err packages 2>&1) && { echo "what was planted passed"; exit 1; }
  for rule in "$@"; do grep -q "$rule" <<<"$report" || { echo "$rule did not see it"; exit 1; }; done
}
plant packages/core/src/money/planted.ts <<'EOF'
import { createApp } from '@culvert/server'
import { readFileSync } from 'node:fs'
export const planted = [createApp, readFileSync]
EOF
plant packages/web/src/bank/planted.ts <<'EOF'
import { openingOf } from '../books/openingDraft.ts'
export const planted = openingOf
EOF
plant packages/web/src/ui/planted.ts <<'EOF'
import { App } from '../app/App.tsx'
export const planted = App
EOF
plant packages/server/src/activity/planted.ts <<'EOF'
import { pullBank } from '../bank/pullBank.ts'
export const planted = pullBank
EOF
refused .dependency-cruiser.cjs core-imports-nothing-of-ours core-is-pure no-stage-imports-another ground-imports-no-stage
rm -f "${planted[@]}"
# The core's money is needed by its formats: that way round it would be a circle.
plant packages/core/src/money/planted.ts <<'EOF'
import { csvRecord } from '../formats/csvRecord.ts'
export const planted = csvRecord
EOF
refused .dependency-rooms.cjs no-circle-of-rooms
rm -f "${planted[@]}"
# And the course is told by composing, which it therefore cannot need.
plant packages/server/src/course/planted.ts <<'EOF'
import { recompose } from '../composing/recompose.ts'
export const planted = recompose
EOF
refused .dependency-rooms.cjs no-circle-of-rooms
rm -f "${planted[@]}"
# A row is read by its readers; a cast of one is refused, however it is written.
plant packages/server/src/bank/planted.ts <<'EOF'
import { sql } from 'drizzle-orm'
import type { Transaction } from '../database/connect.ts'
export const planted = async (tx: Transaction) => [
  (await tx.execute(sql`SELECT 1`)).rows as { one: number }[],
  await tx.execute<{ one: number }>(sql`SELECT 1`),
]
EOF
report=$(npx biome check packages/server/src/bank/planted.ts 2>&1) && { echo "a planted cast passed"; exit 1; }
[[ $(grep -c "read it by its readers\|read its rows by their readers" <<<"$report") == 2 ]] || { echo "a planted cast was not seen"; exit 1; }
rm -f "${planted[@]}"
# Pairing takes long: it is asked for on a thread of its own, not where others wait.
plant packages/server/src/bank/planted.ts <<'EOF'
import { pairOpenItems } from '@culvert/contract'
export const planted = pairOpenItems
EOF
report=$(npx biome check packages/server/src/bank/planted.ts 2>&1) && { echo "planted pairing passed"; exit 1; }
grep -q "ask pairBeside" <<<"$report" || { echo "planted pairing was not seen"; exit 1; }
rm -f "${planted[@]}"
# Which kinds have something in common is said in the core, and in no statement.
plant packages/server/src/bank/planted.ts <<'PLANTED'
import { sql } from 'drizzle-orm'
export const planted = sql`SELECT FROM line_as_of l WHERE l.amount > 0
  AND l.kind NOT IN ('payout', 'payout_returned')`
PLANTED
report=$(npx biome check packages/server/src/bank/planted.ts 2>&1) && { echo "a planted list of kinds passed"; exit 1; }
grep -q "by their trait" <<<"$report" || { echo "a planted list of kinds was not seen"; exit 1; }
