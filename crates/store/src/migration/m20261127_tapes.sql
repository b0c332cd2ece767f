-- How a class lays its marks: temperament, alignment, strip, offset, tolerance, A4. Read and written as a whole; what is not
-- there has its default.
alter table class add column laying jsonb not null default '{}';

-- What was done to the marks of an instrument. Entries are only ever added; one that does not count any more is named by
-- an entry of kind `undone`.
create table tape_event (
  program_id uuid not null,
  -- Made by the device.
  event_id uuid not null,
  asset_id uuid not null,
  kind text not null check (kind in ('measured', 'placed', 'positions', 'heard', 'held', 'loose', 'missing', 'bridge',
                                     'strings', 'thinned', 'back', 'bare', 'undone')),
  -- The whole entry, its kind too.
  work jsonb not null check (work ->> 'kind' = kind),
  happened_at timestamptz not null,
  recorded_at timestamptz not null default now(),
  account_id uuid not null references account,
  primary key (program_id, event_id),
  foreign key (program_id, asset_id) references asset
);
create index tape_event_of_asset on tape_event (program_id, asset_id, happened_at, event_id);

create function tape_event_is_append_only() returns trigger language plpgsql as $$
begin
  raise exception 'the tape log is append-only';
end $$;
create trigger tape_event_is_append_only before update or delete on tape_event
  for each row execute function tape_event_is_append_only();
create trigger tape_event_is_not_truncated before truncate on tape_event
  for each statement execute function tape_event_is_append_only();

-- What follows from the log of an instrument: a cache that can be rebuilt at any time.
create table tape_record (
  program_id uuid not null,
  asset_id uuid not null,
  record jsonb not null,
  primary key (program_id, asset_id),
  foreign key (program_id, asset_id) references asset
);

-- Lengths that were on record before there was a log begin it.
insert into tape_event (program_id, event_id, asset_id, kind, work, happened_at, account_id)
select a.program_id, gen_random_uuid(), a.asset_id, 'measured',
       jsonb_build_object('kind', 'measured', 'lengthMm', a.string_length_mm), a.created_at,
       (select m.account_id from membership m
        where m.program_id = a.program_id order by m.role = 'director' desc, m.account_id limit 1)
from asset a
where a.string_length_mm is not null
  and exists (select from membership m where m.program_id = a.program_id);
insert into tape_record (program_id, asset_id, record)
select program_id, asset_id,
       jsonb_build_object('lengthMm', (work ->> 'lengthMm')::double precision, 'spots', jsonb_build_object(),
                          'lookedAt', to_char(happened_at at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.US"Z"'))
from tape_event;
