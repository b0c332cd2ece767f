\set n random(1, 1000000000)
insert into observation (program_id, observation_id, class_id, child_id, target, level, via, observed_at, observer) values (:program, gen_random_uuid(), :class, (:children::uuid[])[1 + :n % 60], 'bench.plain', :n % 5, 'visit', now(), :observer);
