-- Setting up a class: what the office says of a child, measures, instruments and their loans, seats in a room, stock,
-- and what an import changed, so that it can be undone.

alter table child
  -- As the school writes it.
  add column grade text not null default '' check (length(grade) <= 20),
  -- The office's own number, by which an import finds the child again.
  add column school_number text not null default '' check (length(school_number) <= 60),
  add column near_front boolean not null default false,
  add column near_aisle boolean not null default false,
  -- Set while the child is away from the class for good; its history stays.
  add column left_on date;
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

alter table seat add column locked boolean not null default false;

alter table class
  add column room_width_mm integer not null default 10000 check (room_width_mm between 2000 and 60000),
  add column room_depth_mm integer not null default 9000 check (room_depth_mm between 2000 and 60000),
  -- Chairs in each row, from the podium to the back; empty until the director sets the room.
  add column row_chairs smallint[] not null default '{}' check (cardinality(row_chairs) <= 20);

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
  -- What the child's entry was before; null for a child that the import added.
  before jsonb,
  primary key (program_id, import_id, child_id),
  foreign key (program_id, import_id) references roster_import,
  foreign key (program_id, child_id) references child
);
create index roster_change_of_child on roster_change (program_id, child_id);

-- Tapes are on an instrument: a look at them belongs to the instrument that the child had when it was looked at, an
-- undo to that of the look it takes back. `asset_id` is null where the child had none on record.
create view tape_mark as
  select m.program_id, m.mark_id, m.child_id, l.asset_id
  from mark m
  left join mark r on r.program_id = m.program_id and r.mark_id = m.retracts
  left join loan l on l.program_id = m.program_id and l.child_id = m.child_id
    and coalesce(r.observed_at, m.observed_at) >= l.since
    and (l.until is null or coalesce(r.observed_at, m.observed_at) < l.until)
  where m.target like 'tape.%';
