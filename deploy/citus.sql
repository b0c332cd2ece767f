-- Distributes Bright Row's schema over the nodes of a Citus cluster, every program whole on one of them.
--
-- It has never been run by this project: no package of Citus is at hand where its tests run. What it builds on is proved there
-- (crates/server/tests/distribution.rs): every key, foreign key and unique index of what is a program's begins with program_id, and
-- every statement asks one program, but for the few that are named in that test. Try it on a copy first: docs/operations.md,
-- "Beyond one database", says what else to look at.
--
-- On the coordinator, on an empty database that `bright-row migrate` has set up, as the owner of its tables:
--   psql -v ON_ERROR_STOP=1 -f deploy/citus.sql

\set ON_ERROR_STOP on
begin;
create extension if not exists citus;

-- Guards against changes of what is only ever added to run on each node, beside the rows they guard. Guards against emptying a whole
-- table cannot: who may truncate is a matter of the role (deploy/role.sql).
set local citus.enable_unsafe_triggers = on;
select format('drop trigger %I on %s', tgname, tgrelid::regclass)
  from pg_trigger where not tgisinternal and tgtype & 32 <> 0 \gexec

-- What is a person's and no program's is small, and others refer to it: a copy on every node.
select create_reference_table('account');
select create_reference_table(name) from unnest(array['recovery_code', 'password_link', 'known_device', 'passkey', 'backup_note']) as name;
-- These are written by every request that begins or goes on with a session, and found by what a device has: each row on one node. The id
-- by which an owner of a session knows it is made by chance and needs no guard.
alter table web_session drop constraint web_session_session_id_key;
create index web_session_session_id on web_session (session_id);
select create_distributed_table('web_session', 'session_hash', colocate_with => 'none');
select create_distributed_table('sign_in_pause', 'whose_hash', colocate_with => 'none');

-- A program's: all of it beside the program itself.
select create_distributed_table('program', 'program_id');
select format('select create_distributed_table(%L, %L, colocate_with => %L)', name, 'program_id', 'program')
  from unnest(array[
    'asset', 'audit', 'class', 'calendar_address', 'child', 'accommodation', 'child_choice', 'child_home',
    'class_choice', 'day_off', 'done_once', 'family_answer', 'heading', 'invitation', 'invitation_class', 'lesson',
    'loan', 'measuring', 'membership', 'class_member', 'observation', 'pain_answer', 'played', 'retention',
    'roster_import', 'roster_change', 'round_event', 'round_event_child', 'seat', 'setup_found', 'short_day',
    'small_group', 'small_group_child', 'stage_opened', 'standing', 'stock', 'tape_event', 'tape_record'
  ]) with ordinality as listed (name, place) order by place \gexec

commit;
