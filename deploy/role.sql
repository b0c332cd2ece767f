-- The role of the application: it signs in, owns its own schema, and may do nothing else. To be run once in the application's database
-- by somebody who may make roles, with psql and the variable `password`; once more does no harm.
select 'create role bright_row_app login nosuperuser nocreatedb nocreaterole noreplication nobypassrls'
  where not exists (select from pg_roles where rolname = 'bright_row_app') \gexec
alter role bright_row_app password :'password';

-- Nobody else makes or reads anything here.
revoke all on database :DBNAME from public;
grant connect, temporary on database :DBNAME to bright_row_app;
revoke all on schema public from public;
alter schema public owner to bright_row_app;

-- What an earlier start made as another role becomes the application's.
select format('alter %s public.%I owner to bright_row_app',
    case c.relkind when 'v' then 'view' when 'S' then 'sequence' else 'table' end, c.relname)
  from pg_class c join pg_namespace n on n.oid = c.relnamespace
  where n.nspname = 'public' and c.relkind in ('r', 'v', 'S') and pg_get_userbyid(c.relowner) <> 'bright_row_app'
    and not exists (select from pg_depend d where d.objid = c.oid and d.deptype in ('a', 'i') and c.relkind = 'S') \gexec
select format('alter function public.%I() owner to bright_row_app', p.proname)
  from pg_proc p join pg_namespace n on n.oid = p.pronamespace
  where n.nspname = 'public' and pg_get_userbyid(p.proowner) <> 'bright_row_app' and p.pronargs = 0 \gexec
