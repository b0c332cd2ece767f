-- Who gets in, what they may do, what is noted of it, and how long things are kept.

-- An address and a password are what people come back with; a substitute comes once, by a code, and has neither.
alter table account alter column email drop not null;
alter table account alter column password_hash drop not null;
alter table account add constraint account_comes_back check ((email is null) = (password_hash is null));
-- The demo's people have a password that everybody knows: they sign in on the server's own machine only.
alter table account add column demo boolean not null default false;
-- The secret of a second factor, encrypted by nothing but the database's own doors; null: none is asked for.
alter table account add column totp_secret bytea check (length(totp_secret) between 16 and 64);
-- The last step of time that a code was taken for: none is taken twice.
alter table account add column totp_step bigint;

-- Hashes of codes that stand for a lost second factor, each good once.
create table recovery_code (
  account_id uuid not null references account on delete cascade,
  code_hash bytea not null,
  primary key (account_id, code_hash)
);

-- Roles: what a director was, an owner is.
alter table membership drop constraint membership_role_check;
update membership set role = 'owner' where role = 'director';
alter table membership add constraint membership_role_check check (role in ('owner', 'director', 'assistant', 'substitute'));
-- Until when a substitute is let in.
alter table membership add column until timestamptz;
alter table membership add constraint membership_until check ((role = 'substitute') = (until is not null));
alter table membership add column joined_at timestamptz not null default now();

-- The classes that somebody is given; an owner has all of them.
create table class_member (
  program_id uuid not null,
  class_id uuid not null,
  account_id uuid not null,
  primary key (program_id, class_id, account_id),
  foreign key (program_id, class_id) references class on delete cascade,
  foreign key (program_id, account_id) references membership on delete cascade
);
create index class_member_by_account on class_member (account_id);
insert into class_member (program_id, class_id, account_id)
  select m.program_id, c.class_id, m.account_id from membership m join class c using (program_id) where m.role = 'assistant';

-- A link or a code that lets somebody in, once.
create table invitation (
  program_id uuid not null references program,
  invitation_id uuid not null,
  -- SHA-256 of the link's secret: a copy of this table lets nobody in.
  secret_hash bytea not null unique,
  role text not null check (role in ('owner', 'director', 'assistant', 'substitute')),
  -- A substitute's name, as colleagues will read it; for others whom the link is for.
  name text not null default '' check (length(name) <= 80),
  -- Until when a substitute is let in.
  until timestamptz,
  made_at timestamptz not null,
  made_by uuid not null references account,
  expires_at timestamptz not null,
  used_at timestamptz,
  used_by uuid references account,
  revoked_at timestamptz,
  primary key (program_id, invitation_id),
  check ((role = 'substitute') = (until is not null))
);
create table invitation_class (
  program_id uuid not null,
  invitation_id uuid not null,
  class_id uuid not null,
  primary key (program_id, invitation_id, class_id),
  foreign key (program_id, invitation_id) references invitation on delete cascade,
  foreign key (program_id, class_id) references class on delete cascade
);

-- A link to a new password, once.
create table password_link (
  secret_hash bytea primary key,
  account_id uuid not null references account on delete cascade,
  -- Null: made on the server itself.
  made_by uuid references account,
  expires_at timestamptz not null
);

-- Sessions know whose they are, so that they can be listed and ended.
delete from web_session;
alter table web_session add column session_id uuid not null unique;
alter table web_session add column account_id uuid references account on delete cascade;
-- What kind of device, as people would say it: `Chrome on Android`.
alter table web_session add column device text not null default '' check (length(device) <= 80);
alter table web_session add column begun_at timestamptz not null default now();
alter table web_session add column last_used_at timestamptz not null default now();
create index web_session_by_account on web_session (account_id);

-- Devices from which somebody has signed in: each has its own allowance of tries.
create table known_device (
  device_hash bytea not null,
  account_id uuid not null references account on delete cascade,
  last_used_at timestamptz not null,
  primary key (account_id, device_hash)
);

-- Failed sign-ins are counted by whom they were for and from where: an address, a known device, a network. Each by a hash.
alter table sign_in_pause rename column email_hash to whose_hash;
create index sign_in_pause_by_age on sign_in_pause (last_failure);

-- A class that is over can be read and changes no more.
alter table class add column archived_at timestamptz;

-- How long things of a program are kept.
create table retention (
  program_id uuid primary key references program on delete cascade,
  -- Days after its last day until a class is archived by itself.
  archive_after_days integer not null default 0 check (archive_after_days between 0 and 400),
  -- Days after it was archived until a class is deleted.
  delete_after_days integer not null default 730 check (delete_after_days between 30 and 4000),
  -- Days until notes and answers to pain are cleared.
  notes_days integer not null default 365 check (notes_days between 30 and 4000),
  -- Days that the audit is kept.
  audit_days integer not null default 365 check (audit_days between 90 and 4000),
  -- Days that somebody who left waits for removal.
  left_days integer not null default 365 check (left_days between 30 and 4000),
  -- The owner demands a second factor of everybody but substitutes.
  second_factor boolean not null default false
);

-- Who did what to what, when, from where; never what was in it. Only ever added.
create table audit (
  program_id uuid not null references program on delete cascade,
  entry_id uuid not null,
  at timestamptz not null,
  -- Null: the server itself.
  account_id uuid references account,
  deed text not null check (length(deed) between 3 and 40),
  -- The kind of thing it was done to and its id; a name never.
  thing text not null default '' check (length(thing) <= 20),
  thing_id uuid,
  -- The network, without its last part.
  network text not null default '' check (length(network) <= 60),
  primary key (program_id, entry_id)
);
create index audit_by_time on audit (program_id, at, entry_id);

create function audit_is_append_only() returns trigger language plpgsql as $$
begin
  if tg_op = 'DELETE' and current_setting('bright_row.clearing', true) = old.program_id::text then
    return old;
  end if;
  raise exception 'the audit is append-only';
end $$;
create trigger audit_is_append_only before update or delete on audit
  for each row execute function audit_is_append_only();
create trigger audit_is_not_truncated before truncate on audit
  for each statement execute function audit_is_append_only();

-- What was proved of backups: when one was made, and when one was last checked.
create table backup_note (
  made_at timestamptz primary key,
  file text not null check (length(file) <= 200),
  bytes bigint not null,
  proved_at timestamptz
);

-- A day is of the years that everything else can read; what was stored beyond them was a slip of the keyboard.
delete from day_off where day not between '1900-01-01' and '2199-12-31';
delete from short_day where day not between '1900-01-01' and '2199-12-31';
delete from lesson where day not between '1900-01-01' and '2199-12-31';
alter table day_off add constraint day_is_near check (day between '1900-01-01' and '2199-12-31');
alter table short_day add constraint day_is_near check (day between '1900-01-01' and '2199-12-31');
alter table lesson add constraint day_is_near check (day between '1900-01-01' and '2199-12-31');
alter table class add constraint days_are_near check (first_day >= '1900-01-01' and last_day <= '2199-12-31');
update asset set condition_since = current_date where condition_since not between '1900-01-01' and '2199-12-31';
alter table asset add constraint day_is_near check (condition_since between '1900-01-01' and '2199-12-31');
alter table observation add constraint moment_is_near check (observed_at between '1900-01-01' and '2200-01-01') not valid;
alter table round_event add constraint moment_is_near check (happened_at between '1900-01-01' and '2200-01-01') not valid;
alter table tape_event add constraint moment_is_near check (happened_at between '1900-01-01' and '2200-01-01') not valid;

-- The detail of a round says what its kind needs and nothing else.
alter table round_event disable trigger round_event_is_append_only;
update round_event set detail = jsonb_set(detail, '{data}',
  (select coalesce(jsonb_object_agg(key, value), '{}') from jsonb_each(detail -> 'data')
   where key in ('minutes', 'part', 'strand', 'scans', 'target', 'before')))
  where jsonb_typeof(detail -> 'data') = 'object';
alter table round_event enable trigger round_event_is_append_only;

-- Observations, rounds and tape logs stay append-only. Three things may touch them, each says so beforehand: the removal of a
-- child (its rows go, its name goes out of others' notes), the end of a class or a program, the clearing of old notes.
create or replace function observation_is_append_only() returns trigger language plpgsql as $$
begin
  if tg_op = 'DELETE' then
    if current_setting('bright_row.removing_child', true) = old.child_id::text
      or current_setting('bright_row.removing_class', true) = old.class_id::text
      or current_setting('bright_row.clearing', true) = old.program_id::text then
      return old;
    end if;
  elsif tg_op = 'UPDATE' then
    if current_setting('bright_row.rewording', true) = old.program_id::text
      and to_jsonb(new) - 'note' = to_jsonb(old) - 'note' then
      return new;
    elsif current_setting('bright_row.removing_class', true) = old.class_id::text
      and to_jsonb(new) - 'class_id' = to_jsonb(old) - 'class_id' then
      -- A child that moved to another class takes what was seen of it along.
      return new;
    end if;
  end if;
  raise exception 'observations are append-only';
end $$;

create or replace function round_is_append_only() returns trigger language plpgsql as $$
begin
  -- Each expression only where its columns are there.
  if tg_op = 'DELETE' and tg_table_name = 'round_event_child' then
    if current_setting('bright_row.removing_child', true) = old.child_id::text
      or exists (select from round_event e where e.program_id = old.program_id and e.event_id = old.event_id
                 and current_setting('bright_row.removing_class', true) = e.class_id::text)
      or current_setting('bright_row.clearing', true) = old.program_id::text then
      return old;
    end if;
  elsif tg_op = 'DELETE' and tg_table_name = 'round_event' then
    if current_setting('bright_row.removing_class', true) = old.class_id::text
      or current_setting('bright_row.clearing', true) = old.program_id::text then
      return old;
    end if;
  end if;
  raise exception 'what happened in a round is append-only';
end $$;

create or replace function tape_event_is_append_only() returns trigger language plpgsql as $$
begin
  if tg_op = 'DELETE' and current_setting('bright_row.clearing', true) = old.program_id::text then
    return old;
  elsif tg_op = 'UPDATE' then
    if current_setting('bright_row.rewording', true) = old.program_id::text
      and to_jsonb(new) - 'work' = to_jsonb(old) - 'work' then
      return new;
    end if;
  end if;
  raise exception 'the tape log is append-only';
end $$;
