-- How far the string is from the fingerboard at the third finger, in millimetres; null until somebody measured it.
alter table asset add column string_height_mm double precision check (string_height_mm between 0.5 and 20);
