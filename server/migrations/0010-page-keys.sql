-- An address is looked up by its site and its key: one index in place of two, and the pages of a site stand side by side in it. New
-- addresses of a long list took two and a half times as long with two indexes.
create unique index linked_page_by_key on linked_page (graph_id, site_id, url_key);
drop index linked_page_by_site;
alter table linked_page drop constraint linked_page_graph_id_url_key_key;
