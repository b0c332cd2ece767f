-- Everything that was ever seen of a class, child by child: the largest statement of the term.
select these.place::int4, m.observation_id, m.target, m.level, m.via, m.observed_at, m.observer
from unnest(:children::uuid[]) with ordinality as these(child_id, place)
cross join lateral (select * from observation o
                    where o.program_id = :program and o.child_id = these.child_id offset 0) m;
