//! Observations in whatever order they arrive: after each what is kept is what all of them together come to.
#![allow(missing_docs)]

mod support;

use std::collections::BTreeSet;

use bright_row_core::craft::id::{CheckpointId, SlipId, StageId, Target};
use bright_row_core::craft::level::Level;
use bright_row_core::progress::observation::{Observation, Observed, Via};
use bright_row_store::observations::{renewing, standings};
use chrono::Duration;
use support::school::{School, checklist, now, school};

/// Numbers that are the same in every run of a seed.
struct Numbers(u64);

impl Numbers {
    fn below(&mut self, limit: u64) -> u64 {
        self.0 = self.0.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
        (self.0 >> 33) % limit
    }
}

/// Two stages with some of their checkpoints.
const STAGES: [(&str, [&str; 3]); 2] =
    [("hold.1", ["hold.size", "hold.support", "hold.nails"]), ("bow.1", ["bow.pluck", "bow.loose", "bow.shape"])];

fn made_up(school: &School, numbers: &mut Numbers, day: u64, earlier: &[Observation]) -> Observation {
    let mut number = |limit| numbers.below(limit);
    let (stage, checkpoints) = STAGES[usize::try_from(number(2)).expect("small")];
    let checkpoint = checkpoints[usize::try_from(number(3)).expect("small")];
    let child = school.children[usize::try_from(number(2)).expect("small")];
    let level = Level::try_from(u8::try_from(number(5)).expect("small")).expect("a level");
    // Mostly after everything else; now and then before it, or at the very moment of another.
    let at = match number(6) {
        0 => now() - Duration::days(90 - i64::try_from(number(80)).expect("small")),
        1 if !earlier.is_empty() => {
            earlier[usize::try_from(number(u64::try_from(earlier.len()).expect("small"))).expect("small")].observed_at
        }
        _ => now() - Duration::days(90) + Duration::hours(i64::try_from(day * 26).expect("small")),
    };
    let slips = if number(4) == 0 { BTreeSet::from([SlipId::new("hold.raise.low")]) } else { BTreeSet::new() };
    let via = if number(5) == 0 { Via::Scan } else { Via::Visit };
    let look = Observation { observed_at: at, via, ..school.look(child, checkpoint, 0, 0) };
    match number(8) {
        0 => Observation {
            target: Target::Stage(StageId::new(stage)),
            seen: Observed::Holds { except: BTreeSet::from([CheckpointId::new(checkpoint)]) },
            ..look
        },
        1 if !earlier.is_empty() => {
            let back = &earlier[usize::try_from(number(u64::try_from(earlier.len()).expect("small"))).expect("small")];
            Observation { child: back.child, target: back.target.clone(), seen: Observed::Retracts(back.id), ..look }
        }
        _ => Observation { seen: Observed::Level { level, slips }, ..look },
    }
}

#[tokio::test]
async fn what_is_kept_goes_on_and_is_what_everything_together_comes_to() {
    let checklist = checklist();
    for seed in 0..2 {
        let school = school().await;
        let mut numbers = Numbers(seed);
        let mut all: Vec<Observation> = Vec::new();
        let mut held_back: Vec<Observation> = Vec::new();
        for day in 0..30 {
            let next = made_up(&school, &mut numbers, day, &all);
            all.push(next.clone());
            // Some arrive later than their undo.
            if numbers.below(7) == 0 {
                held_back.push(next);
                continue;
            }
            let mut together = vec![next];
            if numbers.below(3) == 0 {
                together.append(&mut held_back);
            }
            school.add(&together).await;
            let kept = standings::kept_of_class(&school.db, school.class.key).await.expect("what is kept");
            let rebuilt = renewing::rebuild(&school.db, &school.class, &checklist).await.expect("a rebuild");
            assert_eq!(kept, rebuilt, "seed {seed}, day {day}: {together:?}");
        }
    }
}
