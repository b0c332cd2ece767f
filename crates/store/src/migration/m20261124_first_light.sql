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
  primary key (program_id, class_id, row_number, seat_number),
  unique (program_id, child_id),
  foreign key (program_id, class_id) references class,
  foreign key (program_id, child_id) references child
);

create table mark (
  program_id uuid not null,
  -- Made by the device that saw it.
  mark_id uuid not null,
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
  primary key (program_id, mark_id),
  foreign key (program_id, class_id) references class,
  foreign key (program_id, child_id) references child,
  check (level is null or retracts is null),
  check (cardinality(slips) = 0 or level is not null),
  check (cardinality(except_checkpoints) = 0 or (level is null and retracts is null))
);
create index mark_of_child on mark (program_id, child_id, target, observed_at, mark_id);

-- Marks are only ever added. Removing a child's data is the one exception and says so beforehand.
create function mark_is_append_only() returns trigger language plpgsql as $$
begin
  if tg_op = 'DELETE' and current_setting('bright_row.removing_child', true) = old.child_id::text then
    return old;
  end if;
  raise exception 'marks are append-only';
end $$;
create trigger mark_is_append_only before update or delete on mark
  for each row execute function mark_is_append_only();
create trigger mark_is_not_truncated before truncate on mark
  for each statement execute function mark_is_append_only();

-- What follows from the marks: a cache that can be rebuilt at any time.
create table standing (
  program_id uuid not null,
  child_id uuid not null,
  checkpoint_id text not null,
  level smallint not null check (level between 0 and 4),
  peak smallint not null check (peak between level and 4),
  looked_at timestamptz not null,
  visited_at timestamptz,
  interval_meetings integer not null check (interval_meetings > 0),
  slipped boolean not null,
  slips text[] not null,
  says text check (says in ('easy', 'tight', 'hurts')),
  primary key (program_id, child_id, checkpoint_id),
  foreign key (program_id, child_id) references child
);
