-- Pages are met in no order when a long list of links is loaded: an index by hash takes them in a third of the time.
drop index link_by_source;
create index link_by_source on link using hash (source_page_id);
