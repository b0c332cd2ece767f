# Databases with many schools, and their directors. To be sourced after place.sh.

made() { # database, schools: a database with so many schools
  database "$1"
  "$TARGET/release/bright-row" demo >/dev/null
  psql "$DATABASE_URL" -v schools="$2" -v children=50 -v looks="$LOOKS" -f scripts/bench/schools.sql
  "$TARGET/release/bright-row" rebuild >/dev/null
  psql "$DATABASE_URL" -c "vacuum analyze" -c "create extension pg_stat_statements"
}
# A line for each class of so many schools, with the director's cookie and the children. The demo's director signs in; the others get sessions
# like that one: so many sign-ins from one address would be slowed, as they should be.
classes_of() { # schools to take
  sign_in
  psql "$DATABASE_URL" -c "select account_id from account where email like '%@bench.example' order by md5(email) limit $1" >"$PLACE/accounts"
  node scripts/bench/sessions.mjs "$(wc -l <"$PLACE/accounts")" | paste -d' ' "$PLACE/accounts" - >"$PLACE/sessions"
  {
    echo "create temp table given (account_id uuid, cookie text, hash text);"
    echo "copy given from stdin (delimiter ' ');"
    cat "$PLACE/sessions"
    echo '\.'
    echo "insert into web_session (session_hash, session_id, account_id, device, data, begun_at, last_used_at, expires_at)
      select decode(g.hash, 'hex'), i.id, g.account_id, w.device,
             w.data || jsonb_build_object('account', g.account_id, 'session', i.id), w.begun_at, w.last_used_at, w.expires_at
      from given g cross join lateral (select gen_random_uuid() as id, g.hash) i
      cross join (select w.* from web_session w join account a using (account_id)
                  where a.email = 'director@demo.example' order by w.begun_at desc limit 1) w;"
    echo "select c.class_id || ' bright_row=' || g.cookie || ' ' || string_agg(c.child_id::text, ',')
      from given g join membership m using (account_id) join child c using (program_id) group by c.class_id, g.cookie;"
  } | psql "$DATABASE_URL"
}
