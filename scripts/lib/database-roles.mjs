import { createHmac } from 'node:crypto'

/** Who owns the tables and changes them when Tsumiki is brought up to date; and who Tsumiki is while it serves people. */
export const OWNER = 'tsumiki_owner'
export const APPLICATION = 'tsumiki_app'

/** The password of a role, made from that of the cluster, so that none has to be kept. */
export const passwordOf = (role, secret) => createHmac('sha256', secret).update(role).digest('base64url')

const quoted = (text) => `'${text.replaceAll("'", "''")}'`

/** Makes both roles where they are missing; neither is a superuser. Run in any database. */
export const makeRoles = (secret) =>
  [OWNER, APPLICATION]
    .map(
      (role) => `
do $$ begin
  if not exists (select from pg_roles where rolname = ${quoted(role)}) then
    create role ${role} login nosuperuser nocreatedb nocreaterole password ${quoted(passwordOf(role, secret))};
  end if;
end $$;`,
    )
    .join('\n')

/**
 * Gives a database and everything of ours in it to the owner's role, where a superuser made it before there was one.
 * What belongs to an extension stays as it is. Run in that database.
 */
export const handOver = (database) => `
alter database ${database} owner to ${OWNER};
revoke all on database ${database} from public;
grant connect, temporary on database ${database} to ${APPLICATION};
do $$
declare
  act text;
begin
  for act in
    select format('alter schema %I owner to ${OWNER}', nspname) from pg_namespace where nspname in ('drizzle', 'jobs')
    union all
    select format(
      'alter %s %I.%I owner to ${OWNER}',
      case c.relkind when 'v' then 'view' when 'm' then 'materialized view' when 'S' then 'sequence' else 'table' end,
      n.nspname, c.relname)
    from pg_class c
    join pg_namespace n on n.oid = c.relnamespace
    where n.nspname in ('public', 'drizzle', 'jobs')
      and c.relkind in ('r', 'p', 'v', 'm', 'S')
      and not exists (
        select from pg_depend d where d.classid = 'pg_class'::regclass and d.objid = c.oid and d.deptype in ('a', 'i', 'e')
          and (d.deptype = 'e' or c.relkind = 'S'))
    union all
    select format('alter routine %s owner to ${OWNER}', p.oid::regprocedure)
    from pg_proc p
    join pg_namespace n on n.oid = p.pronamespace
    where n.nspname in ('public', 'jobs')
      and not exists (
        select from pg_depend d where d.classid = 'pg_proc'::regclass and d.objid = p.oid and d.deptype = 'e')
    union all
    select format('alter type %I.%I owner to ${OWNER}', n.nspname, t.typname)
    from pg_type t
    join pg_namespace n on n.oid = t.typnamespace
    where n.nspname in ('public', 'jobs')
      and t.typtype = 'e'
      and not exists (
        select from pg_depend d where d.classid = 'pg_type'::regclass and d.objid = t.oid and d.deptype = 'e')
  loop
    execute act;
  end loop;
end $$;`
