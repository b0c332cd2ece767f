//! How a class grew: brightness and stages, waits, slips, small groups, and what became of a forecast.

mod support;

use std::collections::BTreeSet;

use bright_row_core::craft::checklist::Checklist;
use bright_row_core::craft::id::{CheckpointId, SlipId, StageId};
use bright_row_core::craft::instrument::{Instrument, Playing};
use bright_row_core::craft::level::Level;
use bright_row_core::craft::strand::Strand;
use bright_row_core::progress::calendar::MeetingCalendar;
use bright_row_core::progress::context::ChildContext;
use bright_row_core::progress::observation::{Observation, Via, in_force};
use bright_row_core::progress::outlook::Outlook;
use bright_row_core::progress::rhythm::Rhythm;
use bright_row_core::progress::standing::standings;
use bright_row_core::round::bands::Band;
use bright_row_core::tapes::assessment::MarkerAssessment;
use bright_row_core::tapes::log::{Heard, Proof, TapeEvent, TapeWork};
use bright_row_core::tapes::marker_set::MarkerSet;
use bright_row_core::tapes::record::TapeRecord;
use bright_row_core::tapes::settings::MarkerSettings;
use bright_row_core::term::came::{Fit, fit, most_reached};
use bright_row_core::term::group::{COUNTS_FOR_MEETINGS, SmallGroup, Verdict};
use bright_row_core::term::growth::Growth;
use bright_row_core::term::looks::{Waits, seconds_of_looking};
use bright_row_core::term::markers_then::Held;
use bright_row_core::term::past::{Past, Span};
use bright_row_core::term::room::room;
use bright_row_core::term::slips::slips;
use bright_row_core::term::stages::reached;
use bright_row_core::{AccountId, ChildId};
use proptest::prelude::*;
use support::{
    at, calendar, chance, checklist, choosing, content, holds, holds_except, level, observation, scanned, with_slip,
};
use uuid::Uuid;

/// A class in which children are read by the shipped checklist.
struct Class {
    checklist: Checklist,
    calendar: MeetingCalendar,
    rhythm: Rhythm,
    now: u32,
}

impl Class {
    fn at(now: u32) -> Self {
        Self { checklist: checklist(), calendar: calendar(), rhythm: Rhythm::default(), now }
    }

    fn span(&self) -> Span<'_> {
        Span { calendar: &self.calendar, rhythm: &self.rhythm, now: self.now }
    }

    fn past<'a>(&'a self, child: &'a Child) -> Past<'a> {
        Past {
            child: child.id,
            checklist: &self.checklist,
            playing: &child.playing,
            context: &child.context,
            joined: child.joined,
            seen: in_force(&child.seen),
            held: Vec::new(),
        }
    }

    fn growth(&self, child: &Child) -> Growth {
        Growth::of(&self.past(child), &self.span())
    }
}

struct Child {
    id: ChildId,
    playing: Playing,
    context: ChildContext,
    joined: u32,
    seen: Vec<Observation>,
}

impl Child {
    fn new(number: u128, seen: Vec<Observation>) -> Self {
        let playing = Instrument::Violin.into();
        Self { id: Uuid::from_u128(number).into(), playing, context: ChildContext::default(), joined: 1, seen }
    }
}

fn stage(id: &str) -> StageId {
    StageId::new(id)
}

/// Looks at everything that a stage requires, all at one meeting and level.
fn look_at_stage(first: u32, meeting: u32, id: &str, seen: Level) -> Vec<Observation> {
    let checklist = checklist();
    let required = checklist.checkpoints_of(&stage(id)).filter(|checkpoint| checkpoint.required);
    (first..)
        .zip(required)
        .map(|(number, found)| observation(number, meeting, found.id.as_str(), level(seen)))
        .collect()
}

proptest! {
    #[test]
    fn at_every_meeting_a_child_was_as_bright_as_its_ladder_said_then(seed in 0_u64..u64::MAX) {
        let class = Class::at(12);
        let mut chance = chance(seed);
        let mut pick = |most: usize| (0..most).find(|n| chance() < 1.0 / f64::from(u32::try_from(most - n).expect("few"))).unwrap_or(0);
        let targets: Vec<String> = class.checklist.checkpoints().iter().map(|one| one.id.to_string()).collect();
        let levels = [Level::NotYet, Level::Placed, Level::Prompted, Level::Alone, Level::Lasting];
        let mut seen: Vec<Observation> = (0..80).map(|number| {
            let meeting = u32::try_from(pick(12)).expect("few") + 1;
            let look = observation(number, meeting, &targets[pick(targets.len())], level(levels[pick(5)]));
            if pick(4) == 0 { scanned(look) } else { look }
        }).collect();
        seen.push(observation(90, 9, "hold.2", holds()));
        let mut child = Child::new(7, seen);
        child.context.exempt = [CheckpointId::new("hold.tall")].into();
        child.playing = Playing { now: Instrument::Cello, before: vec![(at(5, 0), Instrument::Violin)] };
        let growth = class.growth(&child);
        for meeting in 1..=class.now {
            let until: Vec<Observation> =
                child.seen.iter().filter(|look| look.observed_at < at(meeting + 1, 0)).cloned().collect();
            let then = standings(&class.checklist, &until, &class.calendar, &class.rhythm);
            let played = if meeting < 5 { Instrument::Violin } else { Instrument::Cello };
            let outlook = Outlook { checklist: &class.checklist, calendar: &class.calendar, rhythm: &class.rhythm, now: meeting };
            let ladder = outlook.ladder(&played.into(), &child.context, &then);
            let glow = growth.then[usize::try_from(meeting - 1).expect("few")].expect("it was here");
            prop_assert_eq!(glow.glow.to_vec(), ladder.strands.iter().map(|strand| strand.glow).collect::<Vec<_>>());
            prop_assert_eq!((glow.instrument, glow.brightness()), (played, ladder.brightness()));
        }
    }

    #[test]
    fn a_class_is_as_bright_as_its_children_are_on_the_mean(joined in prop::collection::vec(1_u32..6, 1..6)) {
        let class = Class::at(6);
        let children: Vec<Child> = (1..).zip(joined).map(|(number, joined)| Child {
            joined,
            ..Child::new(number, look_at_stage(0, joined, "hold.1", Level::Alone))
        }).collect();
        let growths: Vec<Growth> = children.iter().map(|child| class.growth(child)).collect();
        for then in room(&growths) {
            let here: Vec<f64> = growths.iter().filter_map(|growth| growth.then[usize::try_from(then.meeting - 1).expect("few")]).map(|one| one.brightness()).collect();
            prop_assert_eq!(then.children, here.len());
            if !here.is_empty() {
                let mean = here.iter().sum::<f64>() / f64::from(u32::try_from(here.len()).expect("few"));
                prop_assert!((then.brightness() - mean).abs() < 1e-9);
                prop_assert!((then.sections[&Instrument::Violin] - mean).abs() < 1e-9, "one section is the class");
            }
        }
    }
}

#[test]
fn before_it_joined_a_child_is_not_there_and_what_it_brought_counts_from_the_first_day() {
    let class = Class::at(4);
    let child = Child { joined: 3, ..Child::new(1, look_at_stage(0, 1, "hold.1", Level::Alone)) };
    let growth = class.growth(&child);
    assert_eq!(growth.then.iter().map(Option::is_some).collect::<Vec<_>>(), [false, false, true, true]);
    assert!(growth.then[2].expect("here").glow[0] > 0.0);
    assert_eq!(growth.reached.get(&stage("hold.1")), Some(&1));
    assert_eq!(room(&[growth])[0].children, 0, "an empty room is dark");
}

#[test]
fn a_class_before_its_first_meeting_has_no_past() {
    let class = Class::at(0);
    let growth = class.growth(&Child::new(1, Vec::new()));
    assert!(growth.then.is_empty() && growth.reached.is_empty());
    assert!(room(&[growth]).is_empty() && room(&[]).is_empty());
}

#[test]
fn markers_count_by_the_log_of_the_instrument_that_the_child_had_then() {
    let class = Class::at(8);
    let set = MarkerSet::new(&content().instruments[&Instrument::Violin], &choosing(&[]), MarkerSettings::default());
    let event =
        |number: u128, meeting, work| TapeEvent { id: Uuid::from_u128(number).into(), at: at(meeting, 0), work };
    let heard = |number: u128, finger| {
        let cents = Heard::Cents(0.0);
        event(number, 4, TapeWork::Heard { finger, proof: Proof::OpenString, heard: cents, microphone: false })
    };
    let fingers: Vec<_> = set
        .spots
        .iter()
        .filter_map(|spot| match spot {
            bright_row_core::tapes::finger::Spot::Finger(finger) => Some(*finger),
            _ => None,
        })
        .collect();
    let laid = TapeWork::Placed { spots: set.spots.iter().copied().collect(), strips: None };
    let mut log = vec![event(1, 2, TapeWork::Measured { length_mm: 290.0 }), event(2, 3, laid)];
    log.extend((10..).zip(fingers).map(|(number, finger)| heard(number, finger)));
    let held = |since, until: Option<u32>, log| Held {
        asset: Uuid::from_u128(u128::from(since)).into(),
        size: "3/4",
        length_mm: Some(290.0),
        since: at(since, 0),
        until: until.map(|until| at(until, 0)),
        log,
        set: &set,
    };
    let child = Child::new(1, Vec::new());
    let past = Past { held: vec![held(1, Some(6), &log), held(6, None, &[])], ..class.past(&child) };
    let growth = Growth::of(&past, &class.span());
    let tapes: Vec<f64> = growth.then.iter().map(|then| then.expect("here").glow[3]).collect();
    // The string length on record counts from the first day; another instrument begins anew.
    assert_eq!(tapes, [0.25, 0.25, 0.5, 0.75, 0.75, 0.25, 0.25, 0.25]);
    let whole = MarkerAssessment::of(&TapeRecord::of(&log), &set, Some(290.0));
    assert!((whole.state.glow() - 0.75).abs() < 1e-9);
    assert_eq!(growth.reached.get(&stage("tape.3")), Some(&4));
}

#[test]
fn stages_are_reached_when_four_of_five_have_and_sections_stand_by_themselves() {
    let class = Class::at(9);
    let child = |number: u128, meeting: u32| Child::new(number, look_at_stage(0, meeting, "hold.1", Level::Alone));
    let mut children: Vec<Child> = (1..=4).map(|number| child(number, u32::try_from(number).expect("few"))).collect();
    children.push(Child { playing: Instrument::Bass.into(), ..Child::new(5, Vec::new()) });
    let growths: Vec<(Instrument, Growth)> =
        children.iter().map(|child| (child.playing.now, class.growth(child))).collect();
    let found = reached(&growths, &stage("hold.1"));
    let brief: Vec<_> = found.iter().map(|one| (one.section, one.there, one.of, one.first, one.most)).collect();
    assert_eq!(
        brief,
        [
            (None, 4, 5, Some(1), Some(4)),
            (Some(Instrument::Violin), 4, 4, Some(1), Some(4)),
            (Some(Instrument::Bass), 0, 1, None, None),
        ]
    );
    let all: Vec<&Growth> = growths.iter().map(|(_, growth)| growth).collect();
    assert_eq!(most_reached(&all, &stage("hold.1"), None, 3), Some(4));
    assert_eq!(most_reached(&all, &stage("hold.1"), Some(Instrument::Bass), 3), None);
    assert_eq!(most_reached(&[], &stage("hold.1"), None, 3), None);
}

#[test]
fn what_came_is_held_against_the_days_that_were_named() {
    let said = |low, high| Band { low, middle: None, high };
    assert_eq!(fit(said(Some(5), Some(9)), Some(4), 12), Fit::Earlier);
    assert_eq!(fit(said(Some(5), Some(9)), Some(5), 12), Fit::Within);
    assert_eq!(fit(said(Some(5), Some(9)), Some(9), 12), Fit::Within);
    assert_eq!(fit(said(Some(5), Some(9)), Some(10), 12), Fit::Later);
    assert_eq!(fit(said(Some(5), Some(9)), None, 10), Fit::Later, "the days are over");
    assert_eq!(fit(said(Some(5), Some(9)), None, 9), Fit::Open);
    assert_eq!(fit(said(Some(5), None), Some(30), 30), Fit::Within, "no end was named");
    assert_eq!(fit(said(Some(5), None), None, 30), Fit::Open);
    assert_eq!(fit(said(None, None), Some(30), 30), Fit::Earlier, "hardly any run came to it");
}

fn waits(seen: &[Observation], joined: u32, now: u32) -> Waits {
    let class = Class::at(now);
    let child = Child { joined, ..Child::new(1, seen.to_vec()) };
    Waits::for_visits(&class.past(&child), &class.span())
}

#[test]
fn waits_lie_between_visits_and_the_present_one_counts_for_the_longest() {
    let look = |number, meeting| observation(number, meeting, "hold.tall", level(Level::Prompted));
    assert_eq!(waits(&[], 1, 5), Waits { looked: 0, mean: None, longest: 5, now: 5 });
    let three = [look(0, 1), look(1, 1), look(2, 4), look(3, 5)];
    assert_eq!(waits(&three, 1, 7), Waits { looked: 3, mean: Some(5.0 / 3.0), longest: 3, now: 2 });
    assert_eq!(waits(&three, 4, 7), Waits { looked: 2, mean: Some(1.0), longest: 2, now: 2 }, "not before it joined");
    assert_eq!(waits(&[look(0, 2)], 1, 9).longest, 7);
    assert_eq!(waits(&[scanned(look(0, 2))], 1, 3).looked, 0, "a scan is no visit");
    let together = Waits::together(&[waits(&three, 1, 7), waits(&[], 1, 7), waits(&[look(0, 6)], 1, 7)]);
    assert_eq!(together, Waits { looked: 4, mean: Some(11.0 / 4.0), longest: 7, now: 7 });
    assert_eq!(Waits::together(&[]), Waits::default());
}

#[test]
fn a_strand_is_looked_at_from_afar_too_but_not_at_set_up() {
    let class = Class::at(6);
    let far = scanned(observation(0, 2, "bow.thumb", level(Level::Prompted)));
    let set_up = Observation { via: Via::SetUp, ..observation(1, 4, "bow.pluck", level(Level::Alone)) };
    let child = Child::new(1, vec![far, set_up]);
    let looked = Waits::for_strands(&class.past(&child), &class.span()).map(|waits| waits.looked);
    assert_eq!((Strand::ALL[1], looked), (Strand::Bow, [0, 1, 0, 0]));
}

#[test]
fn looking_takes_from_the_first_look_of_a_stretch_to_its_last() {
    let class = Class::at(3);
    let look = |second: i64, by: u128| {
        let mut one = observation(0, 2, "hold.tall", level(Level::Prompted));
        one.observed_at = at(2, 0) + chrono::TimeDelta::seconds(second);
        one.observer = AccountId::from(Uuid::from_u128(by));
        one
    };
    let taken = |seen: &[Observation]| seconds_of_looking(seen, &class.span()).into_iter().collect::<Vec<_>>();
    assert_eq!(taken(&[look(60, 1), look(0, 1)]), [(2, 90)]);
    assert_eq!(taken(&[look(0, 1), look(60, 2)]), [(2, 60)], "each person by itself");
    assert_eq!(taken(&[look(0, 1), look(600, 1)]), [(2, 60)], "a pause is not looking");
    assert_eq!(taken(&[Observation { via: Via::TapeLog, ..look(0, 1) }]), []);
}

#[test]
fn a_slip_goes_with_the_first_look_without_it() {
    let class = Class::at(9);
    let tick = |number, meeting| observation(number, meeting, "bow.pluck", with_slip(Level::Prompted, "pluck-up"));
    let plain = |number, meeting| observation(number, meeting, "bow.pluck", level(Level::Alone));
    let found = |seen: Vec<Observation>| {
        let child = Child::new(1, seen);
        let found = slips(&class.past(&child), &class.span());
        found.iter().map(|slip| (slip.from, slip.until, slip.gone_after())).collect::<Vec<_>>()
    };
    assert_eq!(found(vec![tick(0, 2), tick(1, 3), plain(2, 5)]), [(2, Some(5), Some(3))]);
    assert_eq!(found(vec![tick(0, 2), plain(1, 3), tick(2, 6)]), [(2, Some(3), Some(1)), (6, None, None)]);
    let stage = class.checklist.checkpoint("bow.pluck").expect("a checkpoint").stage.to_string();
    assert_eq!(found(vec![tick(0, 2), observation(1, 4, &stage, holds())]), [(2, Some(4), Some(2))]);
    assert_eq!(found(vec![tick(0, 2), observation(1, 4, &stage, holds_except("bow.pluck"))]), [(2, None, None)]);
    let late = Child { joined: 6, ..Child::new(1, vec![tick(0, 2), plain(1, 3)]) };
    assert!(slips(&class.past(&late), &class.span()).is_empty(), "it was gone before the child came");
}

/// A group at `bow.pluck` from meeting 3 on, and children 1 to `most` of whom the named ones came to Alone at a meeting.
fn outcome(members: &[u128], came: &[(u128, u32)], most: u128, ended: Option<u32>) -> (Verdict, usize, usize) {
    let class = Class::at(20);
    let children: Vec<Child> = (1..=most)
        .map(|number| {
            let mut seen = vec![observation(0, 1, "bow.pluck", with_slip(Level::Prompted, "pluck-up"))];
            for (_, meeting) in came.iter().filter(|(child, _)| *child == number) {
                seen.push(observation(1, *meeting, "bow.pluck", level(Level::Alone)));
            }
            Child::new(number, seen)
        })
        .collect();
    let group = SmallGroup {
        id: Uuid::from_u128(1).into(),
        checkpoint: CheckpointId::new("bow.pluck"),
        slip: Some(SlipId::new("pluck-up")),
        children: members.iter().map(|number| Uuid::from_u128(*number).into()).collect(),
        began_at: at(3, 30),
        ended_at: ended.map(|meeting| at(meeting, 59)),
    };
    let pasts: Vec<Past<'_>> = children.iter().map(|child| class.past(child)).collect();
    let outcome = group.outcome(&pasts, &class.span());
    assert_eq!(outcome.children.len(), members.len());
    let further = |changes: &[bright_row_core::term::group::Change]| changes.iter().filter(|one| one.further).count();
    (outcome.verdict, further(&outcome.children), further(&outcome.others))
}

#[test]
fn a_group_helped_where_more_of_it_came_further_than_of_the_others() {
    assert_eq!(outcome(&[1, 2], &[], 4, None), (Verdict::TooEarly, 0, 0), "nobody looked again");
    assert_eq!(outcome(&[1, 2], &[(1, 4), (2, 5)], 4, None), (Verdict::Helped, 2, 0));
    let all = [(1, 4), (2, 5), (3, 5), (4, 6)];
    assert_eq!(outcome(&[1, 2], &all, 4, None), (Verdict::AsOthers, 2, 2));
    assert_eq!(outcome(&[1, 2], &[(1, 4), (2, 5)], 2, None), (Verdict::Helped, 2, 0), "nobody to compare with");
    let late = 3 + COUNTS_FOR_MEETINGS + 1;
    assert_eq!(outcome(&[1, 2], &[(1, late), (2, late)], 4, None), (Verdict::TooEarly, 0, 0), "too long after");
    assert_eq!(outcome(&[1, 2], &[(1, 4), (2, 8)], 4, Some(5)), (Verdict::Helped, 1, 0), "only until it ended");
    assert_eq!(outcome(&[1, 2], &[(1, 2), (2, 2)], 4, None).0, Verdict::TooEarly, "before it began");
}

#[test]
fn a_slip_that_is_gone_at_the_same_level_is_further_and_a_lower_level_is_not() {
    let class = Class::at(9);
    let member = |after| {
        let before = observation(0, 1, "bow.pluck", with_slip(Level::Prompted, "pluck-up"));
        Child::new(1, vec![before, observation(1, 5, "bow.pluck", after)])
    };
    let verdict = |after| {
        let child = member(after);
        let group = SmallGroup {
            id: Uuid::from_u128(1).into(),
            checkpoint: CheckpointId::new("bow.pluck"),
            slip: Some(SlipId::new("pluck-up")),
            children: BTreeSet::from([child.id]),
            began_at: at(3, 0),
            ended_at: None,
        };
        group.outcome(&[class.past(&child)], &class.span()).verdict
    };
    assert_eq!(verdict(level(Level::Prompted)), Verdict::Helped);
    assert_eq!(verdict(level(Level::Placed)), Verdict::NotYet);
    assert_eq!(verdict(with_slip(Level::Prompted, "pluck-up")), Verdict::NotYet);
    assert_eq!(verdict(with_slip(Level::Alone, "pluck-up")), Verdict::Helped, "the level rose");
}
