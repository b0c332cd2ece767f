-- With each standing what its next observation needs to know of those before: the newest one needs no history then. Computed anew by
-- the rules' new version.
alter table standing add column lasting_run integer not null default 0 check (lasting_run >= 0);
alter table standing add column held_at integer check (held_at >= 0);
alter table standing add column tried_at integer check (tried_at >= 0);
alter table standing alter column lasting_run drop default;
