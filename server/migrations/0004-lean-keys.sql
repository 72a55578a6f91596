-- Checking the site of every keyword and figure row by row took a fifth of a large import. The site is checked when the work begins;
-- what must go with it goes by one trigger.
alter table keyword drop constraint keyword_site_id_fkey;
alter table demand drop constraint demand_site_id_fkey;
alter table finding drop constraint finding_site_id_fkey;

create function forget_keywords() returns trigger language plpgsql as $$
begin
  delete from finding where site_id = old.id;
  delete from demand where site_id = old.id;
  delete from keyword where site_id = old.id;
  return old;
end $$;
create trigger forget_keywords before delete on site for each row execute function forget_keywords();
