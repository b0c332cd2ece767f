-- Small groups that directors keep: children who work together for a while at something that they share.
create table small_group (
  program_id uuid not null,
  -- Made by the device.
  group_id uuid not null,
  class_id uuid not null,
  -- Where its children work together.
  checkpoint_id text not null check (length(checkpoint_id) between 3 and 60),
  -- The slip that they share, if it is one.
  slip_id text check (length(slip_id) between 1 and 60),
  began_at timestamptz not null,
  ended_at timestamptz check (ended_at >= began_at),
  kept_by uuid not null references account,
  primary key (program_id, group_id),
  foreign key (program_id, class_id) references class
);
create index small_group_of_class on small_group (program_id, class_id, began_at);

create table small_group_child (
  program_id uuid not null,
  group_id uuid not null,
  child_id uuid not null,
  primary key (program_id, group_id, child_id),
  foreign key (program_id, group_id) references small_group,
  foreign key (program_id, child_id) references child
);
create index small_group_of_child on small_group_child (program_id, child_id);
