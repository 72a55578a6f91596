-- A long list sums the links of the sites that it brings while it is read: `load` names that load until it has written them. Whoever else
-- writes links of such a site takes the name away, and the sums are reckoned from the table then.
alter table link_unsummed add column load integer;
