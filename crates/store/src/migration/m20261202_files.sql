-- The address under which a class's calendar can be subscribed to, one for each class; who has its secret reads meetings, no child.
create table calendar_address (
  program_id uuid not null,
  class_id uuid not null,
  secret_hash bytea not null unique check (octet_length(secret_hash) = 32),
  made_at timestamptz not null,
  made_by uuid not null references account,
  primary key (program_id, class_id),
  foreign key (program_id, class_id) references class
);
create index calendar_address_made_by on calendar_address (made_by);

-- Headings are remembered for rosters and for inventories, each for itself.
alter table heading add column file text not null default 'roster' check (file in ('roster', 'inventory'));
alter table heading alter column file drop default;
alter table heading drop constraint heading_pkey;
alter table heading add primary key (program_id, file, heading);
