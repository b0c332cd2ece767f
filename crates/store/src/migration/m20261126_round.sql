-- What a round of a class keeps to.
alter table class
  -- Seconds to walk to the next child and greet it.
  add column round_visit_seconds integer not null default 8 check (round_visit_seconds between 0 and 60),
  -- The most checks at one visit.
  add column round_most_checks integer not null default 3 check (round_most_checks between 1 and 5);

-- What happened in rounds: only ever added, by devices that may have been without network for a while.
create table round_event (
  program_id uuid not null,
  -- Made by the device.
  event_id uuid not null,
  class_id uuid not null,
  round_id uuid not null,
  kind text not null check (kind in ('start', 'plan', 'scan', 'take', 'visited', 'skipped', 'absent', 'present', 'end')),
  -- The device that walked: several may walk one round.
  walker text not null check (length(walker) between 1 and 60),
  -- What the kind needs beside children: seconds, part, strand, what was scanned.
  detail jsonb not null default '{}',
  happened_at timestamptz not null,
  recorded_at timestamptz not null default now(),
  account_id uuid not null references account,
  primary key (program_id, event_id),
  foreign key (program_id, class_id) references class
);
create index round_event_of_class on round_event (program_id, class_id, happened_at);

-- The children that an event speaks of, in order; of a plan, the stops with their checks.
create table round_event_child (
  program_id uuid not null,
  event_id uuid not null,
  place smallint not null,
  child_id uuid not null,
  checks text[] not null default '{}',
  primary key (program_id, event_id, place),
  foreign key (program_id, event_id) references round_event,
  foreign key (program_id, child_id) references child
);
create index round_event_child_of_child on round_event_child (program_id, child_id);

create function round_is_append_only() returns trigger language plpgsql as $$
begin
  -- Each expression only where its columns are there.
  if tg_op = 'DELETE' and tg_table_name = 'round_event_child' then
    if current_setting('bright_row.removing_child', true) = old.child_id::text then
      return old;
    end if;
  end if;
  raise exception 'what happened in a round is append-only';
end $$;
create trigger round_event_is_append_only before update or delete on round_event
  for each row execute function round_is_append_only();
create trigger round_event_child_is_append_only before update or delete on round_event_child
  for each row execute function round_is_append_only();

-- The marks of a round.
create index mark_of_round on mark (program_id, class_id, round_id) where round_id is not null;

-- Meetings that leave less time than usual.
create table short_day (
  program_id uuid not null,
  class_id uuid not null,
  day date not null,
  -- Minutes for looking.
  minutes integer not null check (minutes between 0 and 240),
  reason text not null default '' check (length(reason) <= 80),
  primary key (program_id, class_id, day),
  foreign key (program_id, class_id) references class
);

-- The lesson of a meeting, as the director keeps it.
create table lesson (
  program_id uuid not null,
  class_id uuid not null,
  day date not null,
  -- Blocks with their minutes and lines, and aims.
  plan jsonb not null,
  kept_at timestamptz not null default now(),
  kept_by uuid not null references account,
  primary key (program_id, class_id, day),
  foreign key (program_id, class_id) references class
);
