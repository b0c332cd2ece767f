#!/bin/sh
# Run once by the database's container, when it makes the database: the application's own role.
set -eu
{ printf "\\\\set password '%s'\n" "$(cat /run/secrets/application)"; cat /bright-row/role.sql; } |
  psql -v ON_ERROR_STOP=1 -U postgres -d "$POSTGRES_DB"
