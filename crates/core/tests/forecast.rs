//! The planner played forward over a term.

mod support;

use std::cell::Cell;
use std::collections::BTreeMap;

use bright_row_core::craft::id::CheckpointId;
use bright_row_core::craft::instrument::{Instrument, Playing};
use bright_row_core::craft::level::Level;
use bright_row_core::progress::context::ChildContext;
use bright_row_core::progress::next::Order;
use bright_row_core::progress::observation::Observation;
use bright_row_core::progress::rhythm::Rhythm;
use bright_row_core::progress::standing::{Standing, standings};
use bright_row_core::round::forecast::{Class, MeetingAhead, Prospect, settled_from};
use support::{at, calendar, checklist, content, level, observation};

/// Forty children with every stage reached at Alone, first looks spread over five meetings.
fn all_reached(count: usize) -> Vec<(Playing, BTreeMap<CheckpointId, Standing>, u32)> {
    let (checklist, calendar, rhythm) = (checklist(), calendar(), Rhythm::default());
    let child = |place: usize| {
        let meeting = 1 + u32::try_from(place % 5).expect("small");
        let instrument = Instrument::ALL[place % 4];
        let checkpoints = checklist.checkpoints().iter().filter(|found| found.wording.contains_key(&instrument));
        let observations: Vec<Observation> = (0..)
            .zip(checkpoints)
            .map(|(number, found)| observation(number, meeting, found.id.as_str(), level(Level::Alone)))
            .collect();
        (instrument.into(), standings(&checklist, &observations, &calendar, &rhythm), meeting)
    };
    (0..count).map(child).collect()
}

fn played(count: usize, seconds: u32, meetings: u32, stopped: impl Fn() -> bool) -> Option<Vec<MeetingAhead>> {
    let (checklist, content, calendar, rhythm) = (checklist(), content(), calendar(), Rhythm::default());
    let class = Class {
        calendar: &calendar,
        rhythm: &rhythm,
        causes: &content.causes,
        order: Order::SideBySide,
        visit_seconds: 8,
        max_checks_per_child: 3,
        must_see_after_meetings: 4,
    };
    let (children, context) = (all_reached(count), ChildContext::default());
    let prospects: Vec<Prospect<'_>> = children
        .iter()
        .map(|(playing, standings, last_visit)| Prospect {
            checklist: &checklist,
            playing,
            context: &context,
            standings,
            last_visit: *last_visit,
        })
        .collect();
    class.forecast(&prospects, 5, meetings, |_| seconds, stopped)
}

#[test]
fn fourteen_minutes_keep_up_with_forty_children_who_have_reached_everything() {
    let ahead = played(40, 14 * 60, 55, || false).expect("not stopped");
    for meeting in ahead.iter().filter(|meeting| meeting.meeting >= 30) {
        assert!(meeting.latest <= 1, "{meeting:?}");
        assert!(meeting.longest_wait <= 4, "{meeting:?}");
    }
    let picture: Vec<String> = ahead
        .iter()
        .map(|m| {
            format!(
                "{}: {} overdue by {}, wait {}, {} visited",
                m.meeting, m.overdue, m.latest, m.longest_wait, m.visited
            )
        })
        .collect();
    insta::assert_snapshot!(picture.join("\n"));
}

#[test]
fn it_ends_with_the_calendar_and_stops_when_asked() {
    assert_eq!(played(2, 60, 500, || false).expect("not stopped").last().map(|meeting| meeting.meeting), Some(60));
    let asked = Cell::new(0);
    let stopped = || {
        asked.set(asked.get() + 1);
        asked.get() > 3
    };
    assert_eq!(played(2, 60, 40, stopped), None);
    assert_eq!(asked.get(), 4, "asked before each meeting");
}

#[test]
fn without_a_minute_everything_falls_behind() {
    let ahead = played(3, 0, 20, || false).expect("not stopped");
    assert!(ahead.iter().all(|meeting| meeting.visited == 0));
    assert!(ahead.last().expect("meetings").overdue > 0);
    assert_eq!(settled_from(&ahead), None);
    assert_eq!(ahead.last().expect("meetings").longest_wait, 24);
    let day = calendar().day_of(at(6, 0));
    assert_eq!(ahead[0].day, day, "the first meeting after the one that is over");
}
