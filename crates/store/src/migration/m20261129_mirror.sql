-- Whether a device's camera may be a mirror: never for substitutes, whatever is set.
alter table retention add column mirror boolean not null default true;
