-- A file is one of the ways by which a keyword comes, also where it was known already. Until now it was told from there being no other.
alter table keyword add column imported boolean not null default false;
update keyword k set imported = true where not exists (select from finding f where f.site_id = k.site_id and f.keyword_id = k.id);
