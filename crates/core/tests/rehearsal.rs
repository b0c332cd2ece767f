//! A class played meeting by meeting: what a policy comes to.

mod support;

use bright_row_core::craft::checklist::Checklist;
use bright_row_core::craft::edits::Edits;
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::progress::calendar::MeetingCalendar;
use bright_row_core::progress::next::Order;
use bright_row_core::progress::rhythm::Rhythm;
use bright_row_core::round::outcome::Outcome;
use bright_row_core::round::planner::RoundTerms;
use bright_row_core::round::rates::Rates;
use bright_row_core::round::rehearsal::{Play, Policy, section};
use proptest::prelude::*;
use support::{calendar, chance, choosing, content};

fn bare() -> Checklist {
    content().checklist(&choosing(&[("markers", "none")]), &Edits::default())
}

struct Class {
    checklist: Checklist,
    calendar: MeetingCalendar,
    rhythm: Rhythm,
    rates: Rates,
    minutes: u32,
    meetings: u32,
}

impl Class {
    fn new() -> Self {
        let rates = Rates { base: 0.25, coach: 0.35, slip: 0.02 };
        Self { checklist: bare(), calendar: calendar(), rhythm: Rhythm::default(), rates, minutes: 8, meetings: 40 }
    }

    fn play(&self, policy: Policy, children: usize, seed: u64) -> Outcome {
        let content = content();
        let play = Play {
            checklist: &self.checklist,
            causes: &content.causes,
            calendar: &self.calendar,
            rhythm: &self.rhythm,
            order: Order::SideBySide,
            rates: self.rates.into(),
            terms: RoundTerms {
                seconds_available: 60 * self.minutes,
                visit_seconds: 8,
                max_checks_per_child: 3,
                must_see_after_meetings: 4,
            },
            meetings: self.meetings,
        };
        play.rehearse(policy, children, &mut chance(seed))
    }
}

#[test]
fn the_same_seed_plays_the_same_class() {
    let class = Class { meetings: 20, ..Class::new() };
    assert_eq!(class.play(Policy::Next, 12, 5), class.play(Policy::Next, 12, 5));
    assert_ne!(class.play(Policy::Next, 12, 5), class.play(Policy::Next, 12, 6));
}

#[test]
fn the_childs_own_list_leads_a_class_further_than_walking_the_rows_with_less_that_is_due() {
    let class = Class { meetings: 59, ..Class::new() };
    let [next, rows, limit] = [Policy::Next, Policy::Rows, Policy::Limit]
        .map(|policy| Outcome::mean_of(&[1, 2].map(|seed| class.play(policy, 24, seed))));
    assert!(next.end > 1.15 * rows.end, "{next:?} against {rows:?}");
    assert!(next.end > 0.97 * limit.end, "{next:?} against {limit:?}");
    assert!(next.due_share <= 0.30 && rows.due_share > 0.5, "{next:?} against {rows:?}");
    assert!(next.longest_wait <= 5.0, "{next:?}");
    assert!(next.delay_mean < rows.delay_mean && limit.delay_mean < next.delay_mean, "{next:?}, {rows:?}, {limit:?}");
}

#[test]
fn without_a_minute_nobody_is_seen_and_only_the_first_stages_are_learned() {
    let class = Class { minutes: 0, ..Class::new() };
    let outcome = class.play(Policy::Next, 10, 1);
    let Outcome { seconds, due_share, longest_wait, .. } = outcome;
    assert_eq!(format!("{seconds} {due_share} {longest_wait}"), "0 0 40");
    assert!(outcome.end > 0.0 && outcome.end < 0.25, "class teaching goes on in open stages: {outcome:?}");
}

#[test]
fn where_nobody_slips_there_is_no_slip_to_find_and_where_nobody_learns_nothing_stands() {
    let no_slip = Class { rates: Rates { slip: 0.0, ..Class::new().rates }, ..Class::new() };
    let Outcome { delay_mean, delay95, .. } = no_slip.play(Policy::Next, 10, 3);
    assert_eq!(format!("{delay_mean} {delay95}"), "0 0");
    let nobody = Class { rates: Rates { base: 0.0, coach: 0.0, slip: 0.0 }, ..Class::new() };
    let Outcome { end, due_share, late, .. } = nobody.play(Policy::Next, 10, 3);
    assert_eq!(format!("{end} {due_share} {late}"), "0 0 0");
}

#[test]
fn half_a_class_are_violins_and_every_section_is_there() {
    let sections: Vec<Instrument> = (0..20).map(section).collect();
    let count = |instrument| sections.iter().filter(|one| **one == instrument).count();
    assert_eq!(Instrument::ALL.map(count), [10, 4, 4, 2]);
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(12))]
    #[test]
    fn whatever_the_rates_a_round_keeps_to_its_time_and_shares_are_shares(
        base in 0.0_f64..1.0, coach in 0.0_f64..1.0, slip in 0.0_f64..1.0, minutes in 0_u32..20, seed in any::<u64>(),
    ) {
        let class = Class { rates: Rates { base, coach, slip }, minutes, meetings: 18, ..Class::new() };
        for policy in [Policy::Next, Policy::Rows, Policy::Limit] {
            let outcome = class.play(policy, 9, seed);
            prop_assert!(outcome.seconds <= f64::from(60 * minutes));
            for share in [outcome.end, outcome.mean, outcome.due_share] {
                prop_assert!((0.0..=1.0).contains(&share), "{outcome:?}");
            }
            prop_assert!(outcome.longest_wait <= 18.0);
        }
    }
}
