-- Below Alone nothing has a clock any more: of the intervals those for Alone and Lasting stay as they were set.
alter table class
  add column recheck_alone integer check (recheck_alone > 0),
  add column recheck_lasting integer check (recheck_lasting > 0);
update class set recheck_alone = recheck_after[4], recheck_lasting = recheck_after[5];
alter table class
  alter column recheck_alone set not null,
  alter column recheck_lasting set not null,
  drop column recheck_after;

-- In how many visits in a row something was looked at without rising. Standings are computed anew after this.
alter table standing
  alter column interval_meetings drop not null,
  add column tries integer not null default 0 check (tries >= 0);

-- What was found while a class was set up.
alter table observation
  drop constraint observation_via_check,
  add constraint observation_via_check check (via in ('visit', 'scan', 'setUp', 'tapeLog'));
