-- Everything a school owns is keyed by its program first, so that one school never sees another's rows and a database
-- can be split by program. Accounts, web sessions and sign-in pauses belong to people, not to a school.

create table program (
  program_id uuid primary key,
  name text not null check (length(name) between 1 and 120),
  created_at timestamptz not null default now()
);

create table account (
  account_id uuid primary key,
  email text not null unique check (email = lower(email) and length(email) between 3 and 254),
  display_name text not null check (length(display_name) between 1 and 80),
  password_hash text not null,
  created_at timestamptz not null default now()
);

create table web_session (
  -- SHA-256 of the cookie's value: a copy of this table signs nobody in.
  session_hash bytea primary key,
  data jsonb not null,
  expires_at timestamptz not null
);
create index web_session_expiry on web_session (expires_at);

create table sign_in_pause (
  -- SHA-256 of the e-mail address that was tried, whether or not an account has it.
  email_hash bytea primary key,
  failures integer not null check (failures > 0),
  last_failure timestamptz not null
);

create table membership (
  program_id uuid not null references program,
  account_id uuid not null references account,
  role text not null check (role in ('director', 'assistant')),
  primary key (program_id, account_id)
);
create index membership_by_account on membership (account_id);

create table class (
  program_id uuid not null references program,
  class_id uuid not null,
  name text not null check (length(name) between 1 and 80),
  time_zone text not null,
  first_day date not null,
  last_day date not null check (last_day >= first_day),
  -- ISO weekdays, 1 = Monday.
  weekdays smallint[] not null
    check (cardinality(weekdays) between 1 and 7 and weekdays <@ array[1, 2, 3, 4, 5, 6, 7]::smallint[]),
  -- Meetings until the next look, by level 0 to 4.
  recheck_after integer[] not null check (cardinality(recheck_after) = 5 and 0 < all (recheck_after)),
  recheck_longest integer not null check (recheck_longest > 0),
  tapes_first integer not null check (tapes_first > 0),
  tapes_later integer not null check (tapes_later > 0),
  must_see_after integer not null check (must_see_after > 0),
  -- Seconds of a round to walk to the next child and greet it.
  round_visit_seconds integer not null default 8 check (round_visit_seconds between 0 and 60),
  -- The most checks at one visit.
  round_max_checks integer not null default 3 check (round_max_checks between 1 and 5),
  room_width_mm integer not null default 10000 check (room_width_mm between 2000 and 60000),
  room_depth_mm integer not null default 9000 check (room_depth_mm between 2000 and 60000),
  -- Chairs in each row, from the podium to the back; empty until the director sets the room.
  row_chairs smallint[] not null default '{}' check (cardinality(row_chairs) <= 20),
  -- Checkpoints switched off, worded otherwise, added. Versioned JSON.
  checklist_edits jsonb not null default '{"version": 1, "data": {}}' check (checklist_edits ? 'version'),
  -- How markers are laid: temperament, alignment, strip, offset, tolerance, A4; what is not there has its default.
  -- Versioned JSON.
  marker_settings jsonb not null default '{"version": 1, "data": {}}' check (marker_settings ? 'version'),
  -- The rules and the content that the standings of its children were last computed by, whole; empty: none yet.
  rules text not null default '',
  created_at timestamptz not null default now(),
  primary key (program_id, class_id)
);

create table day_off (
  program_id uuid not null,
  class_id uuid not null,
  day date not null,
  reason text not null default '' check (length(reason) <= 80),
  primary key (program_id, class_id, day),
  foreign key (program_id, class_id) references class
);

create table child (
  program_id uuid not null,
  child_id uuid not null,
  class_id uuid not null,
  -- First name and one letter.
  name text not null check (length(name) between 1 and 60),
  instrument text not null check (instrument in ('violin', 'viola', 'cello', 'bass')),
  joined_on date not null,
  -- As the school writes it.
  grade text not null default '' check (length(grade) <= 20),
  -- The office's own number, by which an import finds the child again.
  school_number text not null default '' check (length(school_number) <= 60),
  near_front boolean not null default false,
  near_aisle boolean not null default false,
  -- Set while the child is away from the class for good; its history stays.
  left_on date,
  created_at timestamptz not null default now(),
  primary key (program_id, child_id),
  foreign key (program_id, class_id) references class
);
create index child_of_class on child (program_id, class_id);

create table seat (
  program_id uuid not null,
  class_id uuid not null,
  -- Rows from the podium to the back, seats from the podium's left, both from 1.
  row_number smallint not null check (row_number between 1 and 20),
  seat_number smallint not null check (seat_number between 1 and 40),
  child_id uuid not null,
  -- The child stays in that seat whatever a proposal says.
  locked boolean not null default false,
  primary key (program_id, class_id, row_number, seat_number),
  unique (program_id, child_id),
  foreign key (program_id, class_id) references class,
  foreign key (program_id, child_id) references child
);

create table observation (
  program_id uuid not null,
  -- Made by the device that saw it.
  observation_id uuid not null,
  class_id uuid not null,
  child_id uuid not null,
  -- A checkpoint (hold.tall) or a stage (hold.3).
  target text not null check (length(target) between 3 and 60),
  -- A level: a look at a checkpoint. A retraction: an undo. Neither: a stage look that holds.
  level smallint check (level between 0 and 4),
  retracts uuid,
  slips text[] not null default '{}',
  except_checkpoints text[] not null default '{}',
  says text check (says in ('easy', 'tight', 'hurts')),
  note text check (length(note) between 1 and 500),
  via text not null check (via in ('visit', 'scan', 'tapeLog')),
  observed_at timestamptz not null,
  recorded_at timestamptz not null default now(),
  observer uuid not null references account,
  round_id uuid,
  primary key (program_id, observation_id),
  foreign key (program_id, class_id) references class,
  foreign key (program_id, child_id) references child,
  check (level is null or retracts is null),
  check (cardinality(slips) = 0 or level is not null),
  check (cardinality(except_checkpoints) = 0 or (level is null and retracts is null))
);
create index observation_of_child on observation (program_id, child_id, target, observed_at, observation_id);
create index observation_taken_in on observation (program_id, recorded_at);

-- Observations are only ever added. Removing a child's data is the one exception and says so beforehand.
create function observation_is_append_only() returns trigger language plpgsql as $$
begin
  if tg_op = 'DELETE' and current_setting('bright_row.removing_child', true) = old.child_id::text then
    return old;
  end if;
  raise exception 'observations are append-only';
end $$;
create trigger observation_is_append_only before update or delete on observation
  for each row execute function observation_is_append_only();
create trigger observation_is_not_truncated before truncate on observation
  for each statement execute function observation_is_append_only();

-- What follows from the observations: a cache that can be rebuilt at any time.
create table standing (
  program_id uuid not null,
  child_id uuid not null,
  checkpoint_id text not null,
  level smallint not null check (level between 0 and 4),
  peak smallint not null check (peak between level and 4),
  -- Since when it has stood at Prompted or better.
  passed_at timestamptz,
  looked_at timestamptz not null,
  visited_at timestamptz,
  interval_meetings integer not null check (interval_meetings > 0),
  slipped boolean not null,
  slips text[] not null,
  says text check (says in ('easy', 'tight', 'hurts')),
  primary key (program_id, child_id, checkpoint_id),
  foreign key (program_id, child_id) references child
);

create unique index child_school_number on child (program_id, class_id, school_number) where school_number <> '';

-- Instruments a child played before the present one.
create table played (
  program_id uuid not null,
  child_id uuid not null,
  until timestamptz not null,
  instrument text not null check (instrument in ('violin', 'viola', 'cello', 'bass')),
  primary key (program_id, child_id, until),
  foreign key (program_id, child_id) references child
);

-- What was measured on a child, one row a measuring; the latest of each counts.
create table measuring (
  program_id uuid not null,
  measuring_id uuid not null,
  child_id uuid not null,
  measured_on date not null,
  arm_mm double precision check (arm_mm between 250 and 850),
  height_mm double precision check (height_mm between 800 and 2100),
  span_mm double precision check (span_mm between 60 and 260),
  knee_mm double precision check (knee_mm between 200 and 650),
  lip_mm double precision check (lip_mm between 650 and 1980),
  forehead_mm double precision check (forehead_mm between 740 and 2060),
  primary key (program_id, measuring_id),
  foreign key (program_id, child_id) references child,
  check (num_nonnulls(arm_mm, height_mm, span_mm, knee_mm, lip_mm, forehead_mm) > 0)
);
create index measuring_of_child on measuring (program_id, child_id, measured_on);

-- What was found right in the end, one row a finding; the latest of each kind counts.
create table setup_found (
  program_id uuid not null,
  found_id uuid not null,
  child_id uuid not null,
  kind text not null check (kind in ('seat', 'pin', 'stand', 'support')),
  mm double precision check (mm between 0 and 2000),
  words text not null default '' check (length(words) <= 80),
  found_at timestamptz not null,
  primary key (program_id, found_id),
  foreign key (program_id, child_id) references child,
  check (mm is not null or words <> '')
);
create index setup_found_of_child on setup_found (program_id, child_id, found_at);

-- An instrument of the program's store room.
create table asset (
  program_id uuid not null references program,
  asset_id uuid not null,
  tag text not null check (length(tag) between 1 and 20),
  instrument text not null check (instrument in ('violin', 'viola', 'cello', 'bass')),
  size text not null check (length(size) between 1 and 10),
  -- Nut to bridge, measured on this very instrument.
  string_length_mm double precision check (string_length_mm between 150 and 1300),
  condition text not null check (condition in ('good', 'fair', 'repair')),
  condition_note text not null default '' check (length(condition_note) <= 200),
  condition_since date not null,
  bow boolean not null default true,
  support text not null default '' check (length(support) <= 40),
  pin_anchor text not null default '' check (length(pin_anchor) <= 40),
  has_case boolean not null default true,
  created_at timestamptz not null default now(),
  primary key (program_id, asset_id)
);
create unique index asset_tag on asset (program_id, lower(tag));

-- Who has an instrument, and who had it.
create table loan (
  program_id uuid not null,
  loan_id uuid not null,
  asset_id uuid not null,
  child_id uuid not null,
  since timestamptz not null,
  until timestamptz check (until >= since),
  -- A pair that the director keeps whatever a match says.
  locked boolean not null default false,
  primary key (program_id, loan_id),
  foreign key (program_id, asset_id) references asset,
  foreign key (program_id, child_id) references child
);
create unique index loan_of_asset_now on loan (program_id, asset_id) where until is null;
create unique index loan_of_child_now on loan (program_id, child_id) where until is null;
create index loan_of_asset on loan (program_id, asset_id, since);
create index loan_of_child on loan (program_id, child_id, since);

-- Supplies counted in the program's store room, by item.
-- What was done under an id that a page made: the same sent again is not one more. Says nothing of anybody.
create table done_once (
  program_id uuid not null references program,
  request_id uuid not null,
  answer text not null check (length(answer) <= 100),
  done_at timestamptz not null,
  primary key (program_id, request_id)
);

create table stock (
  program_id uuid not null references program,
  item text not null check (length(item) between 1 and 40),
  quantity double precision not null check (quantity between 0 and 100000),
  primary key (program_id, item)
);

-- What a class chose where teachers disagree; what is not here has its default.
create table class_choice (
  program_id uuid not null,
  class_id uuid not null,
  key text not null check (length(key) between 1 and 40),
  choice text not null check (length(choice) between 1 and 40),
  primary key (program_id, class_id, key),
  foreign key (program_id, class_id) references class
);

-- What a heading of the office's files means; remembered from the last import.
create table heading (
  program_id uuid not null references program,
  heading text not null check (length(heading) between 1 and 200),
  means text not null check (length(means) between 1 and 40),
  primary key (program_id, heading)
);

-- An import, so that it can be undone as one step.
create table roster_import (
  program_id uuid not null,
  import_id uuid not null,
  class_id uuid not null,
  imported_at timestamptz not null,
  imported_by uuid not null references account,
  undone_at timestamptz,
  primary key (program_id, import_id),
  foreign key (program_id, class_id) references class
);
create table roster_change (
  program_id uuid not null,
  import_id uuid not null,
  child_id uuid not null,
  -- What the child's entry was before, as versioned JSON; null for a child that the import added.
  before jsonb,
  primary key (program_id, import_id, child_id),
  foreign key (program_id, import_id) references roster_import,
  foreign key (program_id, child_id) references child
);
create index roster_change_of_child on roster_change (program_id, child_id);

-- Tapes are on an instrument: a look at them belongs to the instrument that the child had when it was looked at, an
-- undo to that of the look it takes back. `asset_id` is null where the child had none on record.
create view tape_observation as
  select m.program_id, m.observation_id, m.child_id, l.asset_id
  from observation m
  left join observation r on r.program_id = m.program_id and r.observation_id = m.retracts
  left join loan l on l.program_id = m.program_id and l.child_id = m.child_id
    and coalesce(r.observed_at, m.observed_at) >= l.since
    and (l.until is null or coalesce(r.observed_at, m.observed_at) < l.until)
  where m.target like 'tape.%';

-- What counts instead of the shared look-for for one child, or that a checkpoint does not apply; kept when it ends.
create table accommodation (
  program_id uuid not null,
  accommodation_id uuid not null,
  child_id uuid not null,
  checkpoint_id text not null check (length(checkpoint_id) between 3 and 60),
  -- Empty: the checkpoint does not apply.
  look_for text not null default '' check (length(look_for) <= 90),
  reason text not null check (length(reason) between 1 and 200),
  made_at timestamptz not null,
  made_by uuid not null references account,
  ended_at timestamptz,
  ended_by uuid references account,
  primary key (program_id, accommodation_id),
  foreign key (program_id, child_id) references child,
  check ((ended_at is null) = (ended_by is null))
);
create unique index accommodation_now on accommodation (program_id, child_id, checkpoint_id) where ended_at is null;

-- A child's override of what its class chose.
create table child_choice (
  program_id uuid not null,
  child_id uuid not null,
  key text not null check (length(key) between 1 and 40),
  choice text not null check (length(choice) between 1 and 40),
  primary key (program_id, child_id, key),
  foreign key (program_id, child_id) references child
);

-- A stage opened although it waits for others; kept when it is left to wait again.
create table stage_opened (
  program_id uuid not null,
  opened_id uuid not null,
  child_id uuid not null,
  stage_id text not null check (length(stage_id) between 3 and 60),
  opened_at timestamptz not null,
  opened_by uuid not null references account,
  ended_at timestamptz,
  ended_by uuid references account,
  primary key (program_id, opened_id),
  foreign key (program_id, child_id) references child,
  check ((ended_at is null) = (ended_by is null))
);
create unique index stage_opened_now on stage_opened (program_id, child_id, stage_id) where ended_at is null;

-- What was done after a child said that it hurts. Until then the observation is flagged.
create table pain_answer (
  program_id uuid not null,
  observation_id uuid not null,
  child_id uuid not null,
  done text not null check (length(done) between 1 and 300),
  answered_at timestamptz not null,
  answered_by uuid not null references account,
  primary key (program_id, observation_id),
  foreign key (program_id, observation_id) references observation,
  foreign key (program_id, child_id) references child
);
create index observation_of_pain on observation (program_id, child_id) where says = 'hurts';
create index observation_taken_back on observation (program_id, retracts) where retracts is not null;

-- Pain that wants an answer: said, not taken back, not answered.
create view pain_open as
  select m.program_id, m.observation_id, m.child_id, m.target
  from observation m
  where m.says = 'hurts'
    and not exists (select from observation r where r.program_id = m.program_id and r.retracts = m.observation_id
                      and r.child_id = m.child_id and r.target = m.target)
    and not exists (select from pain_answer a where a.program_id = m.program_id and a.observation_id = m.observation_id);

-- What happened in rounds: only ever added, by devices that may have been without network for a while.
create table round_event (
  program_id uuid not null,
  -- Made by the device.
  event_id uuid not null,
  class_id uuid not null,
  round_id uuid not null,
  kind text not null check (kind in ('start', 'plan', 'scan', 'take', 'visited', 'skipped', 'absent', 'present', 'end')),
  -- Several devices may walk one round.
  device text not null check (length(device) between 1 and 60),
  -- What the kind needs beside children: seconds, part, strand, what was scanned. Versioned JSON.
  detail jsonb not null,
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
  position smallint not null,
  child_id uuid not null,
  checks text[] not null default '{}',
  primary key (program_id, event_id, position),
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

-- The observations of a round.
create index observation_of_round on observation (program_id, class_id, round_id) where round_id is not null;

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
  -- Blocks with their minutes and lines, and aims. Versioned JSON.
  plan jsonb not null,
  kept_at timestamptz not null default now(),
  kept_by uuid not null references account,
  primary key (program_id, class_id, day),
  foreign key (program_id, class_id) references class
);

-- What was done to the markers of an instrument. Entries are only ever added; one that does not count any more is named by
-- an entry of kind `undone`.
create table tape_event (
  program_id uuid not null,
  -- Made by the device.
  event_id uuid not null,
  asset_id uuid not null,
  kind text not null check (kind in ('measured', 'placed', 'positions', 'heard', 'held', 'loose', 'missing', 'bridge',
                                     'strings', 'thinned', 'back', 'bare', 'undone')),
  -- The whole entry, its kind too. Versioned JSON.
  work jsonb not null check (work #>> '{data,kind}' = kind),
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
  -- Versioned JSON.
  record jsonb not null,
  primary key (program_id, asset_id),
  foreign key (program_id, asset_id) references asset
);
