-- The shared checklist in full: what a class changed on it, what counts for one child besides its marks.

-- Since when a checkpoint has stood at Prompted or better. Where it is not known, since the last look.
alter table standing add column passed_at timestamptz;
update standing set passed_at = looked_at where level >= 2;

-- Checkpoints switched off, worded otherwise, added.
alter table class add column checklist_edits jsonb not null default '{}' check (jsonb_typeof(checklist_edits) = 'object');

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

-- A child's own way where the class goes another.
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

-- What was done after a child said that it hurts. Until then the mark is flagged.
create table pain_answer (
  program_id uuid not null,
  mark_id uuid not null,
  child_id uuid not null,
  done text not null check (length(done) between 1 and 300),
  answered_at timestamptz not null,
  answered_by uuid not null references account,
  primary key (program_id, mark_id),
  foreign key (program_id, mark_id) references mark,
  foreign key (program_id, child_id) references child
);
create index mark_of_pain on mark (program_id, child_id) where says = 'hurts';
create index mark_taken_back on mark (program_id, retracts) where retracts is not null;

-- Pain that wants an answer: said, not taken back, not answered.
create view pain_open as
  select m.program_id, m.mark_id, m.child_id, m.target
  from mark m
  where m.says = 'hurts'
    and not exists (select from mark r where r.program_id = m.program_id and r.retracts = m.mark_id
                      and r.child_id = m.child_id and r.target = m.target)
    and not exists (select from pain_answer a where a.program_id = m.program_id and a.mark_id = m.mark_id);
