#!/usr/bin/env bash
# A check that finds nothing proves nothing: plants an import that the layer rules forbid and wants it refused.
set -euo pipefail
cd "$(dirname "${BASH_SOURCE[0]}")/.."
planted=packages/core/src/money/planted.ts
trap 'rm -f "$planted"' EXIT
echo "import { createApp } from '@culvert/server'
import { readFileSync } from 'node:fs'
export const planted = [createApp, readFileSync]" > "$planted"
report=$(npx depcruise --config .dependency-cruiser.cjs --output-type err packages 2>&1) && { echo "the planted import passed"; exit 1; }
grep -q 'core-imports-nothing-of-ours' <<<"$report" && grep -q 'core-is-pure' <<<"$report"
