//! What came back with a family card: on how many days the child practised, and how it was. Only ever added, like what is seen in
//! class; one tap is one answer, and another one takes it back.

use std::collections::{BTreeMap, BTreeSet};

use chrono::{DateTime, NaiveDate, Utc, Weekday};
use serde::{Deserialize, Serialize};

use crate::craft::id::StageId;
use crate::craft::strand::Strand;
use crate::progress::calendar::MeetingCalendar;
use crate::progress::ladder::StageState;
use crate::progress::observation::Says;
use crate::progress::pupil::Pupil;
use crate::{AnswerId, ChildId};

/// The days of a week.
pub const MAX_DAYS: u32 = 7;

/// One thing that a family answered: days, how it was, or that an earlier answer is taken back.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct FamilyAnswer {
    /// A `UUIDv7` made by the device; the same id twice is one answer.
    pub id: AnswerId,
    /// Whose.
    pub child: ChildId,
    /// On how many days it practised, 0 to 7.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub days: Option<u32>,
    /// How it was.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub says: Option<Says>,
    /// At what it hurts: wanted with `hurts`, and with nothing else.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub hurts_at: Option<Strand>,
    /// An earlier answer of the same child that counts no more.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub retracts: Option<AnswerId>,
    /// When somebody tapped it, by the device's clock.
    #[serde(deserialize_with = "crate::day::moment")]
    pub at: DateTime<Utc>,
}

/// Why an answer cannot be taken.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
pub enum AnswerFault {
    /// None of them, or several.
    #[error("An answer is one of `days`, `says` and `retracts`.")]
    NotOne,
    /// More days than a week has.
    #[error("`days` is 0 to {MAX_DAYS}.")]
    Days,
    /// It hurts, and nobody said at what; or the other way round.
    #[error("`hurtsAt` says at what it hurts: hold, bow or frame, and only where `says` is `hurts`.")]
    HurtsAt,
}

impl FamilyAnswer {
    /// Says what of an answer cannot be.
    ///
    /// # Errors
    /// [`AnswerFault`], the first that is found.
    pub fn check(&self) -> Result<(), AnswerFault> {
        let parts = [self.days.is_some(), self.says.is_some(), self.retracts.is_some()];
        if parts.into_iter().filter(|there| *there).count() != 1 {
            return Err(AnswerFault::NotOne);
        }
        if self.days.is_some_and(|days| days > MAX_DAYS) {
            return Err(AnswerFault::Days);
        }
        let wanted = self.says == Some(Says::Hurts);
        if self.hurts_at.is_some() != wanted || self.hurts_at == Some(Strand::Tape) {
            return Err(AnswerFault::HurtsAt);
        }
        Ok(())
    }
}

/// What came back in one week.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct BackAgain {
    /// The Monday of the week in which it was said.
    pub week: NaiveDate,
    /// On how many days the child practised.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub days: Option<u32>,
    /// The answer that says so.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub days_by: Option<AnswerId>,
    /// How it was.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub says: Option<Says>,
    /// The answer that says so.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub says_by: Option<AnswerId>,
}

/// What came back of one child, the newest week first: in each week the last that was said of days, and the last of how it was.
/// Answers may come in any order; one that was taken back says nothing, whenever its taking back arrived.
#[must_use]
pub fn back_again(answers: &[FamilyAnswer], calendar: &MeetingCalendar) -> Vec<BackAgain> {
    let gone: BTreeSet<AnswerId> = answers.iter().filter_map(|answer| answer.retracts).collect();
    let mut in_force: Vec<&FamilyAnswer> =
        answers.iter().filter(|answer| answer.retracts.is_none() && !gone.contains(&answer.id)).collect();
    in_force.sort_by_key(|answer| (answer.at, answer.id));
    let mut weeks: BTreeMap<NaiveDate, BackAgain> = BTreeMap::new();
    for answer in in_force {
        let week = week_of(calendar.day_of(answer.at));
        let nothing = BackAgain { week, days: None, days_by: None, says: None, says_by: None };
        let back = weeks.entry(week).or_insert(nothing);
        if answer.days.is_some() {
            (back.days, back.days_by) = (answer.days, Some(answer.id));
        }
        if answer.says.is_some() {
            (back.says, back.says_by) = (answer.says, Some(answer.id));
        }
    }
    weeks.into_values().rev().collect()
}

/// The Monday of the week of a day.
#[must_use]
pub fn week_of(day: NaiveDate) -> NaiveDate {
    day.week(Weekday::Mon).checked_first_day().unwrap_or(day)
}

/// The stage at which a child works in a strand, the furthest that is not shut: what hurts at home is flagged there.
#[must_use]
pub fn worked_on(pupil: &Pupil<'_>, strand: Strand) -> Option<StageId> {
    let stages = pupil.checklist.stages().iter().zip(&pupil.ladder.stages);
    let of_strand = stages.filter(|(stage, _)| stage.strand == strand);
    let first = of_strand.clone().next().map(|(stage, _)| stage.id.clone());
    let mut open = of_strand.filter(|(_, view)| !matches!(view.state, StageState::Shut(_)));
    open.next_back().map(|(stage, _)| stage.id.clone()).or(first)
}

#[cfg(test)]
mod tests {
    use chrono::TimeZone;
    use proptest::prelude::*;
    use uuid::Uuid;

    use super::*;

    fn calendar() -> MeetingCalendar {
        let day = |text: &str| text.parse().expect("a day");
        let (first, last) = (day("2026-11-02"), day("2026-11-30"));
        MeetingCalendar::new(chrono_tz::UTC, first, last, &[Weekday::Mon], &BTreeSet::new()).expect("it meets")
    }

    fn answer(number: u128, hour: u32) -> FamilyAnswer {
        FamilyAnswer {
            id: Uuid::from_u128(number).into(),
            child: ChildId::nobody(),
            days: None,
            says: None,
            hurts_at: None,
            retracts: None,
            at: Utc.with_ymd_and_hms(2026, 11, 2, 0, 0, 0).single().expect("a moment")
                + chrono::Duration::hours(hour.into()),
        }
    }

    #[test]
    fn an_answer_is_one_thing_and_pain_has_a_place() {
        let of = |change: &dyn Fn(&mut FamilyAnswer)| {
            let mut answer = answer(1, 0);
            change(&mut answer);
            answer.check()
        };
        assert_eq!(of(&|_| ()), Err(AnswerFault::NotOne));
        assert_eq!(of(&|answer| answer.days = Some(7)), Ok(()));
        assert_eq!(of(&|answer| answer.days = Some(8)), Err(AnswerFault::Days));
        assert_eq!(of(&|answer| (answer.days, answer.says) = (Some(2), Some(Says::Easy))), Err(AnswerFault::NotOne));
        assert_eq!(of(&|answer| answer.says = Some(Says::Hurts)), Err(AnswerFault::HurtsAt));
        let hurts =
            |at| move |answer: &mut FamilyAnswer| (answer.says, answer.hurts_at) = (Some(Says::Hurts), Some(at));
        assert_eq!((of(&hurts(Strand::Bow)), of(&hurts(Strand::Tape))), (Ok(()), Err(AnswerFault::HurtsAt)));
        let easy_at =
            |answer: &mut FamilyAnswer| (answer.says, answer.hurts_at) = (Some(Says::Easy), Some(Strand::Bow));
        assert_eq!(of(&easy_at), Err(AnswerFault::HurtsAt));
    }

    #[test]
    fn a_week_has_the_last_of_each_and_what_was_taken_back_says_nothing() {
        let answers = [
            FamilyAnswer { days: Some(3), ..answer(1, 1) },
            FamilyAnswer { says: Some(Says::Tight), ..answer(2, 2) },
            FamilyAnswer { days: Some(5), ..answer(3, 3) },
            FamilyAnswer { days: Some(6), ..answer(4, 4) },
            FamilyAnswer { retracts: Some(Uuid::from_u128(4).into()), ..answer(5, 5) },
            FamilyAnswer { days: Some(1), ..answer(6, 24 * 7) },
        ];
        let weeks = back_again(&answers, &calendar());
        let said: Vec<_> = weeks.iter().map(|back| (back.week.to_string(), back.days, back.says)).collect();
        let expected = [("2026-11-09", Some(1), None), ("2026-11-02", Some(5), Some(Says::Tight))];
        assert_eq!(said, expected.map(|(week, days, says)| (week.to_owned(), days, says)));
        assert_eq!(weeks[1].days_by, Some(Uuid::from_u128(3).into()));
    }

    proptest! {
        #[test]
        fn the_order_in_which_answers_arrive_changes_nothing(
            said in prop::collection::vec((0_u32..400, prop::option::of(0_u32..8), 0_u128..12), 0..12),
            turn in any::<prop::sample::Index>(),
        ) {
            let one = |(number, (hour, days, other)): (u128, (u32, Option<u32>, u128))| {
                let answer = answer(number, hour);
                match days {
                    Some(days) => FamilyAnswer { days: Some(days), ..answer },
                    None => FamilyAnswer { retracts: Some(Uuid::from_u128(other).into()), ..answer },
                }
            };
            let mut answers: Vec<_> = (0..).zip(said).map(one).collect();
            let before = back_again(&answers, &calendar());
            if !answers.is_empty() {
                let by = turn.index(answers.len());
                answers.rotate_left(by);
            }
            prop_assert_eq!(&back_again(&answers, &calendar()), &before);
            prop_assert!(before.windows(2).all(|two| two[0].week > two[1].week));
            prop_assert!(before.iter().all(|back| back.days.is_some() && back.week.to_string().as_str() >= "2026-11-02"));
        }
    }
}
