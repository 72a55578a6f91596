-- What the weighed first page tells beside its judgement: how clicks are likely split, and which sites stand on it, in order.
alter table weighing add column organic_share real, add column paid_share real, add column domains text[] not null default '{}';
