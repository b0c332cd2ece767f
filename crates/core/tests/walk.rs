//! A round that is walked: how it stands after everything that happened, and what the planner is asked.

use std::collections::BTreeSet;

use bright_row_core::ChildId;
use bright_row_core::craft::strand::Strand;
use bright_row_core::progress::new_observation::NewObservation;
use bright_row_core::round::asked::{Asked, ClassToWalk, Pin};
use bright_row_core::round::detail::ScanKey;
use bright_row_core::round::event::{RoundEvent, RoundStop};
use bright_row_core::round::observed::{RoundObservation, observations_of};
use bright_row_core::round::state::RoundState;
use proptest::prelude::*;
use serde_json::{Value, json};
use uuid::Uuid;

const ADA: ChildUuid = ChildUuid(1);
const BEN: ChildUuid = ChildUuid(2);
const CLEO: ChildUuid = ChildUuid(3);
const DOV: ChildUuid = ChildUuid(4);

#[derive(Clone, Copy)]
struct ChildUuid(u128);

impl ChildUuid {
    fn id(self) -> ChildId {
        Uuid::from_u128(self.0).into()
    }
}

fn name(child: ChildId) -> &'static str {
    ["", "ada", "ben", "cleo", "dov"][usize::try_from(child.uuid().as_u128()).expect("a small number")]
}

/// An event `second` seconds after ten, of round `round`, by a device, about children.
fn event(second: u64, round: u128, kind: &str, device: &str, who: &[ChildUuid], detail: &Value) -> RoundEvent {
    let children: Vec<Value> = who.iter().map(|child| json!({ "child": child.id(), "checks": ["hold.2"] })).collect();
    let at = format!("2026-11-24T10:{:02}:{:02}Z", second / 60, second % 60);
    let id = Uuid::from_u128(1000 + u128::from(second));
    let round = Uuid::from_u128(round);
    serde_json::from_value(json!({
        "id": id, "round": round, "kind": kind, "device": device, "at": at, "children": children, "detail": detail,
    }))
    .expect("an event")
}

fn begun(more: &[(&str, &str, &[ChildUuid])]) -> RoundState {
    let start = event(0, 7, "start", "one", &[ADA, BEN, CLEO], &json!({ "minutes": 12, "scans": [] }));
    let more = (1..).zip(more).map(|(second, (kind, device, who))| event(second, 7, kind, device, who, &json!({})));
    let events: Vec<RoundEvent> = [start].into_iter().chain(more).collect();
    RoundState::of(&events).expect("a round was begun")
}

fn todo(state: &RoundState, device: &str) -> Vec<&'static str> {
    state.todo(device).iter().map(|stop| name(stop.child)).collect()
}

#[test]
fn no_round_stands_before_one_was_begun() {
    assert_eq!(RoundState::of(&[event(1, 7, "visited", "one", &[ADA], &json!({}))]), None);
}

#[test]
fn a_device_begins_with_what_it_has_taken_then_what_nobody_has_and_leaves_out_what_another_one_has() {
    assert_eq!(todo(&begun(&[]), "one"), ["ada", "ben", "cleo"]);
    let half = begun(&[("take", "two", &[CLEO])]);
    assert_eq!(todo(&half, "two"), ["cleo", "ada", "ben"]);
    assert_eq!(todo(&half, "one"), ["ada", "ben"]);
    let both = begun(&[("take", "two", &[CLEO]), ("take", "one", &[ADA]), ("visited", "one", &[ADA])]);
    assert_eq!(todo(&both, "one"), ["ben"]);
    assert_eq!(todo(&both, "two"), ["cleo", "ben"]);
    assert_eq!(both.walkers.iter().map(String::as_str).collect::<Vec<_>>(), ["one", "two"]);
}

#[test]
fn what_was_done_stays_when_the_rest_is_planned_anew_and_one_who_was_passed_over_is_come_back_to() {
    let state = begun(&[
        ("visited", "one", &[ADA]),
        ("skipped", "one", &[BEN]),
        ("plan", "one", &[ADA, BEN, DOV]),
        ("take", "one", &[BEN]),
    ]);
    assert_eq!(todo(&state, "one"), ["ben", "dov"]);
    assert!(!state.stops[0].waits, "ada was visited");
    assert_eq!(state.minutes, 12, "a new plan that says no minutes keeps them");
}

#[test]
fn the_round_begun_last_is_the_one() {
    let events = [
        event(0, 7, "start", "one", &[ADA], &json!({ "minutes": 12 })),
        event(2, 7, "visited", "one", &[ADA], &json!({})),
        event(1, 8, "start", "one", &[BEN], &json!({ "minutes": 5, "part": "row-2", "strand": "bow" })),
    ];
    let state = RoundState::of(&events).expect("begun");
    assert_eq!((state.id.uuid().as_u128(), state.visited.len()), (8, 0));
    assert_eq!((state.part.as_deref(), state.strand), (Some("row-2"), Some(Strand::Bow)));
}

#[test]
fn a_detail_that_makes_no_sense_is_passed_over_and_the_rest_counts() {
    let detail = json!({ "minutes": "many", "scans": 3, "part": "row-1", "strand": [], "before": { "hold.2": 1 } });
    let events = [
        event(0, 7, "start", "one", &[ADA], &detail),
        event(1, 7, "scan", "one", &[], &json!({ "target": 5, "part": "row-1" })),
        event(2, 7, "visited", "one", &[ADA], &detail),
    ];
    let state = RoundState::of(&events).expect("begun");
    assert_eq!((state.minutes, state.part.as_deref(), state.strand), (0, Some("row-1"), None));
    assert!(state.scans.is_empty() && state.scanned.is_empty());
    assert_eq!(state.visited[&ADA.id()].before["hold.2"], 1);
}

proptest! {
    #[test]
    fn a_round_follows_from_its_events_in_any_order_and_however_often(
        kinds in prop::collection::vec((0_usize..8, 0_u128..4, 0_usize..2), 0..24),
        shuffled in any::<prop::sample::Index>(),
    ) {
        let words = ["plan", "scan", "take", "visited", "skipped", "absent", "present", "end"];
        let start = event(0, 7, "start", "one", &[ADA, BEN, CLEO, DOV], &json!({ "minutes": 9 }));
        let more = (1..).zip(&kinds).map(|(second, (kind, child, device))| {
            let detail = json!({ "target": "hold.2", "part": "row-1", "before": { "hold.2": second % 5 } });
            event(second, 7, words[*kind], ["one", "two"][*device], &[ChildUuid(child + 1)], &detail)
        });
        let events: Vec<RoundEvent> = [start].into_iter().chain(more).collect();
        let mut other = events.clone();
        other.rotate_left(shuffled.index(events.len()));
        other.reverse();
        other.extend(events.clone());
        prop_assert_eq!(RoundState::of(&other), RoundState::of(&events));
    }
}

fn new(id: u128, round: u128, second: u64, about: &Value) -> NewObservation {
    let mut observation = json!({
        "id": Uuid::from_u128(id), "round": Uuid::from_u128(round), "child": ADA.id(), "target": "hold.tall",
        "observedAt": format!("2026-11-24T10:00:{second:02}Z"),
    });
    let fields = observation.as_object_mut().expect("an object");
    fields.extend(about.as_object().expect("an object").clone());
    serde_json::from_value(observation).expect("an observation")
}

fn known(id: u128, round: u128, second: u64, level: u8) -> RoundObservation {
    let observation = json!({
        "id": Uuid::from_u128(id), "round": Uuid::from_u128(round), "child": ADA.id(), "target": "hold.tall",
        "level": level, "slips": [], "observedAt": format!("2026-11-24T10:00:{second:02}Z"),
    });
    serde_json::from_value(observation).expect("an observation")
}

#[test]
fn the_observations_of_a_round_are_those_in_force_whether_the_server_has_them_or_not() {
    let server_has = vec![known(1, 7, 0, 1), known(9, 8, 0, 4)];
    let undo = json!({ "retracts": Uuid::from_u128(1) });
    let others_undo = json!({ "retracts": Uuid::from_u128(3), "target": "hold.rest" });
    let on_their_way = vec![
        new(3, 7, 5, &json!({ "level": 3 })),
        new(1, 7, 0, &json!({ "level": 1 })),
        new(2, 7, 4, &undo),
        new(4, 7, 6, &others_undo),
        new(5, 7, 1, &json!({ "level": 2 })),
    ];
    let counting = observations_of(Uuid::from_u128(7).into(), server_has, on_their_way);
    let levels: Vec<_> = counting.iter().map(|one| (one.id.uuid().as_u128(), one.level)).collect();
    assert_eq!(levels, [(5, Some(2)), (3, Some(3))]);
}

fn class() -> ClassToWalk {
    let check = |target: &str, strand: &str, points: u32, seconds: u32| json!({ "target": target, "strand": strand, "seconds": seconds, "points": points, "name": "no rule reads it" });
    let child = |child: ChildUuid, order: u32| {
        json!({
            "id": child.id(), "seatOrder": order, "meetingsUnseen": 2, "visitPoints": 6,
            "checks": [check("hold.2", "hold", 30, 10), check("bow.shape", "bow", 25, 8), check("bow.tilt", "bow", 28, 8)],
            "closeUp": [check("frame.1", "frame", 0, 6)],
        })
    };
    let scan = json!({ "target": "hold.2", "part": "row-1", "strand": "hold", "resolves": [ADA.id(), BEN.id()] });
    let class = json!({
        "visitSeconds": 8, "maxChecksPerChild": 3, "mustSeeAfterMeetings": 4,
        "parts": [{ "key": "row-1", "children": [ADA.id(), BEN.id()] }, { "key": "row-2", "children": [CLEO.id()] }],
        "children": [child(ADA, 0), child(BEN, 1), child(CLEO, 2)],
        "scans": [scan],
    });
    serde_json::from_value(class).expect("a class")
}

fn points(asked: &Asked) -> Vec<(&'static str, Vec<u32>)> {
    let question = class().question(asked);
    let of = |id: &str| name(id.parse::<Uuid>().expect("an id").into());
    question.children.iter().map(|one| (of(&one.id), one.checks.iter().map(|check| check.points).collect())).collect()
}

fn only(children: &[ChildUuid]) -> BTreeSet<ChildId> {
    children.iter().map(|child| child.id()).collect()
}

#[test]
fn the_question_is_about_the_part_the_strand_and_the_children_who_are_left() {
    let part = Some("row-1".to_owned());
    let asked = Asked { seconds: 720, part, strand: Some(Strand::Bow), done: only(&[ADA]), ..Asked::default() };
    assert_eq!(points(&asked), [("ben", vec![25, 28])]);
    let nowhere = Asked { part: Some("row-9".to_owned()), ..Asked::default() };
    assert_eq!(points(&nowhere), []);
}

#[test]
fn pins_of_a_child_count_on_everything_and_a_pinned_look_moves_to_the_front() {
    let pins = [Pin { child: ADA.id(), target: None }, Pin { child: BEN.id(), target: Some("bow.shape".to_owned()) }];
    let asked = Asked { seconds: 720, pins: pins.into(), ..Asked::default() };
    assert_eq!(points(&asked), [("ada", vec![50, 45, 48]), ("ben", vec![45, 30, 28]), ("cleo", vec![30, 25, 28])]);
}

#[test]
fn what_is_settled_from_afar_is_left_out_and_its_seconds_are_gone_for_those_who_are_here() {
    let scan = ScanKey { target: "hold.2".to_owned(), part: "row-1".to_owned() };
    let asked = Asked { seconds: 720, scans: vec![scan], absent: only(&[BEN]), ..Asked::default() };
    assert_eq!(points(&asked), [("ada", vec![25, 28]), ("ben", vec![25, 28]), ("cleo", vec![30, 25, 28])]);
    let question = class().question(&asked);
    assert_eq!(question.seconds_available, 720 - 11);
    assert!(question.children[1].absent && !question.children[0].absent);
}

#[test]
fn a_look_from_afar_spares_less_with_every_child_who_is_absent() {
    let saves = |absent: &[ChildUuid]| class().scans_worth(&only(absent))[0].saves;
    assert_eq!(saves(&[]), 20 - 12);
    assert_eq!(saves(&[BEN]), 10 - 11);
    assert_eq!(saves(&[ADA, BEN]), -10);
}

#[test]
fn a_visit_takes_the_walk_there_and_each_look_also_one_close_up() {
    let checks = ["hold.2", "frame.1", "unknown"].map(str::to_owned).to_vec();
    assert_eq!(class().stop_seconds(&RoundStop { child: ADA.id(), checks }), 8 + 10 + 6);
}

#[test]
fn one_who_is_added_by_hand_gets_its_place_along_the_walk_and_its_first_looks() {
    let stop = |child: ChildUuid| RoundStop { child: child.id(), checks: vec!["hold.2".to_owned()] };
    let stops = class().with_stop(vec![stop(ADA), stop(CLEO)], BEN.id());
    assert_eq!(stops.iter().map(|stop| name(stop.child)).collect::<Vec<_>>(), ["ada", "ben", "cleo"]);
    assert_eq!(stops[1].checks, ["hold.2", "bow.shape"]);
    assert_eq!(class().with_stop(stops.clone(), BEN.id()), stops, "once is enough");
    assert_eq!(class().with_stop(stops.clone(), DOV.id()), stops, "one who is not in the class is not added");
}

#[test]
fn those_who_were_tapped_from_afar_get_that_look_first_close_up() {
    let stop = |child: ChildUuid, checks: &[&str]| RoundStop {
        child: child.id(),
        checks: checks.iter().map(|check| (*check).to_owned()).collect(),
    };
    let stops = vec![stop(BEN, &["bow.shape"]), stop(CLEO, &["hold.2"])];
    let found = class().with_close_up(stops, &[ADA.id(), BEN.id(), CLEO.id()], "hold.2");
    assert_eq!(found, [stop(ADA, &["hold.2"]), stop(BEN, &["hold.2", "bow.shape"]), stop(CLEO, &["hold.2"])]);
}
