-- Many schools beside the demo's, whose fullest class is their pattern. :schools programs of two classes each, :children children a
-- class, :looks looks at each, spread over the ninety days before today. Standings are computed afterwards (bright-row rebuild).
-- Made rows are consistent: the checks of foreign keys would take longer than everything else.
set session_replication_role = replica;
create temp table pattern as
  select c.* from class c join child k using (program_id, class_id) group by c.program_id, c.class_id order by count(*) desc limit 1;
create temp table target as select target, row_number() over (order by target) - 1 as n from (select distinct o.target from observation o
  where o.level is not null and o.target like any (array['hold.%', 'bow.%', 'frame.%'])) as seen;
create temp table school as
  select n, gen_random_uuid() as program_id, gen_random_uuid() as account_id from generate_series(1, :schools) as n;
insert into program (program_id, name) select program_id, 'School ' || n from school;
insert into account (account_id, email, display_name, password_hash)
  select s.account_id, 'director' || s.n || '@bench.example', 'Director ' || s.n, a.password_hash
  from school s cross join (select password_hash from account where email = 'director@demo.example') a;
insert into membership (program_id, account_id, role) select program_id, account_id, 'owner' from school;
insert into class
  select (jsonb_populate_record(null::class, to_jsonb(p)
            || jsonb_build_object('program_id', s.program_id, 'class_id', gen_random_uuid(), 'name', 'Class ' || k))).*
  from pattern p, school s, generate_series(1, 2) as k;
create temp table made as
  select c.program_id, c.class_id, s.account_id, gen_random_uuid() as child_id, k
  from class c join school s using (program_id), generate_series(1, :children) as k;
insert into child (program_id, child_id, class_id, name, instrument, joined_on)
  select program_id, child_id, class_id, 'Child ' || k, (array['violin', 'violin', 'viola', 'cello', 'bass'])[1 + k % 5],
         current_date - 100 from made;
insert into seat (program_id, class_id, row_number, seat_number, child_id)
  select program_id, class_id, 1 + (k - 1) / 10, 1 + (k - 1) % 10, child_id from made;
insert into observation (program_id, observation_id, class_id, child_id, target, level, via, observed_at, recorded_at, observer)
  select m.program_id, gen_random_uuid(), m.class_id, m.child_id, t.target, (g * 7 + m.k) % 5, 'visit', at, at, m.account_id
  from made m cross join generate_series(1, :looks) as g
  join target t on t.n = (g * 5 + m.k) % (select count(*) from target)
  cross join lateral (select now() - make_interval(mins => 129600 * (:looks - g) / :looks + m.k % 60)) as moment (at);
