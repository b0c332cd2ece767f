-- What families answered about a week at home: only ever added; one takes another back.
create table family_answer (
  program_id uuid not null,
  -- Made by the device.
  answer_id uuid not null,
  class_id uuid not null,
  child_id uuid not null,
  -- On how many days the child practised.
  days smallint check (days between 0 and 7),
  says text check (says in ('easy', 'tight', 'soreTips', 'hurts')),
  -- Where it hurts: the stage at which the child works there.
  target text check (length(target) between 3 and 60),
  retracts uuid,
  answered_at timestamptz not null,
  recorded_at timestamptz not null default now(),
  noted_by uuid not null references account,
  -- What was done about it where it hurts.
  done text check (length(done) between 1 and 300),
  done_at timestamptz,
  done_by uuid references account,
  primary key (program_id, answer_id),
  foreign key (program_id, class_id) references class,
  foreign key (program_id, child_id) references child,
  check (num_nonnulls(days, says, retracts) = 1),
  check ((target is not null) = (says is not distinct from 'hurts')),
  check (num_nonnulls(done, done_at, done_by) in (0, 3) and (done is null or target is not null))
);
create index family_answer_of_child on family_answer (program_id, child_id, answered_at);
create index family_answer_of_class on family_answer (program_id, class_id);
create index family_answer_of_pain on family_answer (program_id, child_id) where says = 'hurts';
create index family_answer_taken_back on family_answer (program_id, retracts) where retracts is not null;

-- Pain that wants an answer, seen in class or said by the family: not taken back, not answered.
create or replace view pain_open as
  select m.program_id, m.observation_id, m.child_id, m.target
  from observation m
  where m.says = 'hurts'
    and not exists (select from observation r where r.program_id = m.program_id and r.retracts = m.observation_id
                      and r.child_id = m.child_id and r.target = m.target)
    and not exists (select from pain_answer a where a.program_id = m.program_id and a.observation_id = m.observation_id)
  union all
  select f.program_id, f.answer_id, f.child_id, f.target
  from family_answer f
  where f.says = 'hurts' and f.done is null
    and not exists (select from family_answer r where r.program_id = f.program_id and r.retracts = f.answer_id
                      and r.child_id = f.child_id);

-- What is agreed with a family instead of the class's practice. Versioned JSON.
create table child_home (
  program_id uuid not null,
  child_id uuid not null,
  agreement jsonb not null,
  primary key (program_id, child_id),
  foreign key (program_id, child_id) references child
);
