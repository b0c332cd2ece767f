-- Passkeys: another second factor, kept by a device or a key on a ring.

create table passkey (
  account_id uuid not null references account on delete cascade,
  passkey_id uuid not null,
  -- What the authenticator calls it; no two are the same anywhere.
  credential_id bytea not null unique check (length(credential_id) between 1 and 1024),
  -- The public key with its counter, as the library keeps it. Versioned JSON.
  kept jsonb not null,
  -- As its owner calls it: `Phone`, `Key on the ring`.
  name text not null check (length(name) between 1 and 60),
  added_at timestamptz not null,
  last_used_at timestamptz,
  primary key (account_id, passkey_id)
);
