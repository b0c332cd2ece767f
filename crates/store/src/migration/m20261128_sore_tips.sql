-- Sore tips, beside easy, tight and hurts.
alter table observation
  drop constraint observation_says_check,
  add constraint observation_says_check check (says in ('easy', 'tight', 'soreTips', 'hurts'));
alter table standing
  drop constraint standing_says_check,
  add constraint standing_says_check check (says in ('easy', 'tight', 'soreTips', 'hurts'));
