-- One line a table: its name, its rows, and a sum over their digests in which order plays no part. Two databases with the same lines hold
-- the same. Read by deploy/backup and deploy/restore. Not Hangfire's own tables: what they hold is what is going on now.
set timezone = 'UTC';
set datestyle = 'ISO, YMD';
set extra_float_digits = 3;
set bytea_output = 'hex';
select format(
    'select %L, count(*), coalesce(sum((''x'' || substr(md5(t::text), 1, 15))::bit(60)::bigint), 0) from %I.%I t',
    c.relname, n.nspname, c.relname)
from pg_class c
join pg_namespace n on n.oid = c.relnamespace
where n.nspname = 'public' and c.relkind = 'r'
order by c.relname
\gexec
