//! What came back with the demo's cards: most families answer, some weeks nobody does. A part of this week's came this morning.

use bright_row_core::lessons::family_answer::FamilyAnswer;
use bright_row_core::progress::observation::Says;
use bright_row_core::{AccountId, AnswerId};
use bright_row_store::children::family_answers::{self, NewAnswer};
use bright_row_store::classes::{Class, ClassKey};
use bright_row_store::{ConnectionTrait, StoreError};
use chrono::{DateTime, Duration, Utc};
use rand::{Rng, RngExt};

use super::history::Member;
use super::id;
use super::school::{Pace, Turn};

/// Cards go home from this meeting on, and come back with the first meeting of the next week.
const FROM_MEETING: u32 = 5;
/// How many families answer in a week.
const ANSWER: f64 = 0.7;
/// How many of this week's answers are there already.
const SO_FAR: f64 = 0.4;

/// Takes in what came back until now.
pub(super) async fn take(
    tx: &impl ConnectionTrait,
    key: ClassKey,
    class: &Class,
    members: &[Member<'_>],
    (by, now): (AccountId, DateTime<Utc>),
    chance: &mut impl Rng,
) -> Result<(), StoreError> {
    let calendar = &class.calendar;
    let today = calendar.day_of(now);
    let mut moments: Vec<(DateTime<Utc>, f64)> = (FROM_MEETING..=calendar.total())
        .step_by(class_days(class))
        .filter_map(|meeting| calendar.date_of(meeting))
        .take_while(|day| *day < today)
        .map(|day| (calendar.begins(day) + Duration::hours(13), ANSWER))
        .collect();
    moments.push((now - Duration::minutes(20), ANSWER * SO_FAR));
    let mut answers = Vec::new();
    for (at, share) in moments {
        for (child, pupil, _) in members {
            if pupil.turn == Some(Turn::Seldom) || !chance.random_bool(share) {
                continue;
            }
            let usual = match pupil.pace {
                Pace::Quick => 4..=6,
                Pace::Steady => 2..=5,
                Pace::Slow => 1..=4,
            };
            let says = [(0.55, Says::Easy), (0.8, Says::Tight), (0.9, Says::SoreTips)];
            let turn: f64 = chance.random();
            let says = says.into_iter().find(|(until, _)| turn < *until).map(|(_, says)| says);
            let days = chance.random_range(usual);
            let mut new = |change: &dyn Fn(&mut FamilyAnswer)| {
                let answer_id: AnswerId = id(chance, at).into();
                let mut answer = FamilyAnswer {
                    id: answer_id,
                    child: child.id,
                    days: None,
                    says: None,
                    hurts_at: None,
                    retracts: None,
                    at,
                };
                change(&mut answer);
                answers.push(NewAnswer { answer, target: None });
            };
            new(&|answer| answer.days = Some(days));
            if let Some(says) = says {
                new(&|answer| answer.says = Some(says));
            }
        }
    }
    family_answers::add(tx, key, &answers, (by, now)).await?;
    Ok(())
}

/// How many meetings a week has.
fn class_days(class: &Class) -> usize {
    class.calendar.date_of(1).map_or(1, |first| {
        let week = first..first + Duration::days(7);
        (1..=7).filter_map(|meeting| class.calendar.date_of(meeting)).filter(|day| week.contains(day)).count().max(1)
    })
}
