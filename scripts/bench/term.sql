-- Everything that was ever seen of a class, child by child: the largest statement of the term.
select m.child_id, m.observation_id, m.target, m.level, m.retracts, m.slips, m.except_checkpoints, m.says, m.via, m.observed_at,
       m.recorded_at, m.observer
from unnest(:children::uuid[]) as these(child_id)
cross join lateral (select * from observation o
                    where o.program_id = :program and o.child_id = these.child_id offset 0) m;
