#!/usr/bin/env bash
# Backs the database of DATABASE_URL up, restores it into the fresh cluster of FRESH_URL as docs/operating.md says, and
# compares what the two hold. PGBIN: PostgreSQL's programs.
set -euo pipefail
cd "$(dirname "${BASH_SOURCE[0]}")/.."
dump=$(mktemp); trap 'rm -f "$dump"' EXIT
restored="${FRESH_URL%/*}/culvert"
"$PGBIN/pg_dump" --format=custom --file="$dump" "$DATABASE_URL"
"$PGBIN/psql" -q -v ON_ERROR_STOP=1 "$FRESH_URL" -c 'CREATE ROLE culvert_owner' -c 'CREATE ROLE culvert_app' -c 'CREATE DATABASE culvert'
"$PGBIN/pg_restore" --exit-on-error --dbname="$restored" "$dump"
app=$(DATABASE_URL=$restored node --import tsx packages/server/src/prepare.ts)
held="SELECT json_build_object('entries', (SELECT count(*) FROM entry), 'debits', (SELECT sum(amount) FROM entry_line WHERE amount > 0),
  'lines', (SELECT count(*) FROM activity_line), 'clients', (SELECT json_agg(name ORDER BY client_id) FROM client),
  'policies', (SELECT count(*) FROM pg_policies), 'migrations', (SELECT count(*) FROM drizzle.__drizzle_migrations))"
before=$("$PGBIN/psql" -At "$DATABASE_URL" -c "$held")
after=$("$PGBIN/psql" -At "$restored" -c "$held")
[ "$before" = "$after" ] || { echo "before: $before"; echo "after: $after"; exit 1; }
# The application reads a client's entries, and without a client none.
[ "$("$PGBIN/psql" -At "$app" -c 'SELECT count(*) FROM entry')" = 0 ] || { echo "row security does not hold"; exit 1; }
read=$("$PGBIN/psql" -At "$app" -c "BEGIN; SELECT set_config('app.client', '1', true), set_config('app.user', '1', true); SELECT count(*) > 0 FROM entry; COMMIT" | tr '\n' ' ')
case $read in *' t '*) ;; *) echo "the application reads nothing: $read"; exit 1 ;; esac
