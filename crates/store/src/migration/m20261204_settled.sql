-- Another value with every change of what is set in a program: whoever kept what was set asks whether it still is.
alter table program add column settled uuid not null default gen_random_uuid();

-- Another value with whatever else changes how the children of a class stand: observations, work on tapes, answers about pain.
alter table class add column touched uuid not null default gen_random_uuid();
