-- A link names its program: its secret is looked for there only. Those made before name none and are found by the plain indexes.
alter table invitation drop constraint invitation_secret_hash_key;
alter table invitation add unique (program_id, secret_hash);
create index invitation_secret on invitation (secret_hash);
alter table calendar_address drop constraint calendar_address_secret_hash_key;
alter table calendar_address add unique (program_id, secret_hash);
create index calendar_address_secret on calendar_address (secret_hash);
