alter table import drop constraint import_kind_check;
alter table import add constraint import_kind_check check (kind in ('keywords', 'positions', 'log', 'links', 'graph'));
