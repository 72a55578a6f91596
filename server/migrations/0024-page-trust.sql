-- Trust of single pages, on the scale of their standing; null where no page of a vetted site is in the graph, or in snapshots made before.
alter table page_standing add column trust real;
