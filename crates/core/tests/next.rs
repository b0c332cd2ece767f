//! Three things at most, the class read as a whole, small groups.

mod support;

use std::collections::BTreeSet;
use std::fmt::Write as _;

use bright_row_core::ChildId;
use bright_row_core::craft::cause_graph::Node;
use bright_row_core::craft::checklist::Checklist;
use bright_row_core::craft::id::{CheckpointId, SlipId};
use bright_row_core::craft::instrument::Instrument::{self, Bass, Cello, Viola, Violin};
use bright_row_core::craft::level::Level;
use bright_row_core::craft::loader::Content;
use bright_row_core::craft::strand::Strand;
use bright_row_core::progress::context::ChildContext;
use bright_row_core::progress::ladder::StageState;
use bright_row_core::progress::next::{MAX_NEXT, NextItem, Order, Reason, WorkItem};
use bright_row_core::progress::observation::{Observation, Observed};
use bright_row_core::progress::overview::{MAX_GROUP, MIN_GROUP, Member, bottlenecks, cells, groups};
use proptest::prelude::*;
use support::story::{Child, lines};
use support::{checklist, content, observation};
use uuid::Uuid;

/// A thing in words: what, and why.
fn words(thing: &NextItem) -> String {
    let what = match &thing.work {
        WorkItem::Pain(target) => format!("pain {}", target.id()),
        WorkItem::Tapes(trouble) => format!("tapes {trouble:?}"),
        WorkItem::Checkpoint(id, None) => id.to_string(),
        WorkItem::Checkpoint(id, Some(slip)) => format!("{id}/{slip}"),
        WorkItem::Stage(id) => format!("look {id}"),
    };
    let why = match &thing.reason {
        Reason::Hurts => "hurts".to_owned(),
        Reason::TapeTrouble => "first".to_owned(),
        Reason::LeadsTo(slips) => {
            format!("-> {}", slips.iter().map(SlipId::as_str).collect::<Vec<_>>().join(" "))
        }
        Reason::Next(_) => "next".to_owned(),
        Reason::Overdue(meetings) => format!("overdue {meetings}"),
        Reason::Slipped => "slipped".to_owned(),
    };
    format!("{what} {why}")
}

/// Everything that the first three weeks teach, at Alone.
const SETTLED: &str = "hold.1=3 hold.2=3 hold.3=3 hold.4=3 hold.5=4 bow.1=3 bow.2=3 bow.3=3";

/// Each child with what is named for it, at meeting 5 unless the story ends later.
const CASES: [(Instrument, Order, usize, &str, &str); 20] = [
    // The first day: the earliest open stage of each strand.
    (Violin, Order::SideBySide, 3, "", "hold.size next, bow.pluck next, tape.measured next"),
    (Violin, Order::BowFirst, 3, "", "bow.pluck next, hold.size next, tape.measured next"),
    // The left hand waits for the hold: what can be done is named.
    (Bass, Order::LeftHandFirst, 3, "", "hold.size next, tape.measured next, bow.pluck next"),
    // Fewer, where the class wants fewer.
    (Violin, Order::SideBySide, 1, "", "hold.size next"),
    // Pain before everything.
    (Violin, Order::SideBySide, 2, "hold.1=3 pain:hold.rest", "pain hold.rest hurts, bow.pluck next"),
    // Size before the shoulder that comes from it.
    (
        Violin,
        Order::BowFirst,
        3,
        "hold.size=2 hold.support=3 hold.seat=3 hold.rest=3 hold.raise=2 hold.tall=2+shoulder-up",
        "hold.size -> shoulder-up, bow.pluck next, hold.raise overdue 2",
    ),
    // One support, two effects: one thing.
    (
        Viola,
        Order::SideBySide,
        3,
        "hold.1=3 hold.support=1 hold.2=3 hold.raise=3 hold.tall=2+shoulder-up+head-down @4 hold.size=3 hold.seat=3",
        "hold.support -> head-down shoulder-up, bow.pluck next, tape.measured next",
    ),
    // The locked thumb before the little finger and the index.
    (
        Violin,
        Order::SideBySide,
        3,
        "hold.1=3 hold.2=3 hold.3=3 bow.1=3 bow.thumb=2+bow-thumb-lock bow.little=2+little-straight bow.index=2+index-hook",
        "bow.thumb/bow-thumb-lock -> index-hook little-straight, tape.measured next, hold.contact next",
    ),
    // The palm before the wrist before the flat fingers: the first of the chain only.
    (
        Violin,
        Order::SideBySide,
        3,
        "hold.1=4 hold.2=4 hold.3=4 hold.4=4 hold.5=4 bow.1=4 bow.2=4 bow.3=4 frame.1=3 frame.2=3 tape.1=3 tape.2=3 @2 \
         frame.space=2+neck-palm frame.wrist=2+wrist-in frame.tips=2+fingers-flat",
        "frame.space/neck-palm -> fingers-flat wrist-in, tape.heard next, bow.stroke next",
    ),
    // On the cello the elbow carries spread, tips and wrist.
    (
        Cello,
        Order::SideBySide,
        3,
        "hold.1=4 hold.2=4 hold.3=4 hold.4=4 hold.5=4 bow.1=4 frame.wrist=3 frame.arm=2+elbow-drop frame.2=2 tape.1=3 tape.2=3 \
         frame.tips=2+joints-cave frame.spread=2+two-to-three",
        "frame.arm/elbow-drop -> joints-cave two-to-three, bow.thumb next, tape.heard next",
    ),
    // The cello on the shoulder folds the arm: the pin is looked at first.
    (
        Cello,
        Order::SideBySide,
        3,
        "hold.size=3 hold.seat=3 hold.support=2 hold.2=3 hold.3=3 hold.contact=3 hold.space=2+on-shoulder bow.1=3",
        "hold.support -> on-shoulder, frame.arm next, tape.measured next",
    ),
    // Squeezing before the locked thumb, whatever came last.
    (
        Bass,
        Order::BowFirst,
        3,
        "hold.1=3 hold.2=3 bow.1=3 bow.2=3 @2 bow.alone=2+bow-squeeze @3 bow.thumb=2+bow-thumb-lock",
        "bow.alone/bow-squeeze -> bow-thumb-lock, bow.care next, hold.raise next",
    ),
    // A slip that leads to nothing goes with the next look at its checkpoint.
    (
        Violin,
        Order::SideBySide,
        3,
        "hold.1=3 hold.2=3 @2 bow.shape=3 bow.pencil=3 bow.pluck=2+pluck-up",
        "bow.pluck/pluck-up next, tape.measured next, hold.raise next",
    ),
    // What is overdue comes after what is next; of two the longer wait first.
    (
        Violin,
        Order::BowFirst,
        2,
        "hold.1=2 bow.1=4 bow.2=4 bow.care=1 @4 hold.2=2",
        "bow.alone next, bow.care overdue 3",
    ),
    // Tapes that moved make every finger wrong: first.
    (
        Violin,
        Order::SideBySide,
        2,
        "hold.1=4 tape.1=3 tape.2=3 tape.3=3 @3 tape.heard=0",
        "tapes Drifted first, bow.pluck next",
    ),
    // What does not apply is not asked.
    (Violin, Order::BowFirst, 2, "bow.1=3 bow.thumb=3 exempt:bow.little", "bow.alone next, hold.size next"),
    // A slip on a stage that is shut is not worked on.
    (Violin, Order::BowFirst, 3, "bow.arm=2+shoulder-bow", "bow.pluck next, hold.size next, tape.measured next"),
    // Everything settled: the next stage of each hand.
    (Violin, Order::SideBySide, 3, SETTLED, "frame.arm next, tape.measured next, bow.stroke next"),
    // The latest slip where nothing else is left.
    (
        Viola,
        Order::SideBySide,
        3,
        "hold.1=4 hold.2=4 hold.3=4 hold.4=4 hold.5=4 bow.1=4 bow.2=4 bow.3=4 bow.4=4 frame.1=4 frame.2=4 frame.3=4 \
         frame.4=4 tape.4=3 tape.off=3 @5 bow.levels=3+bow-elbow-sink",
        "bow.levels/bow-elbow-sink slipped",
    ),
    // Nothing wants anything: nothing is named.
    (
        Bass,
        Order::SideBySide,
        3,
        "hold.1=4 hold.2=4 hold.3=4 hold.4=4 hold.5=4 bow.1=4 bow.2=4 bow.3=4 bow.4=4 frame.1=4 frame.2=4 frame.3=4 frame.4=4 \
         tape.4=3 tape.off=3",
        "",
    ),
];

#[test]
fn the_next_things_of_a_child_are_these() {
    let (content, checklist) = (content(), checklist());
    let mut other = Vec::new();
    for (instrument, order, most, story, expected) in CASES {
        let (observations, context) = lines(story);
        let child = Child::new(&checklist, instrument, context, &observations, 5);
        let things = child.pupil(&checklist, &content).next(order, most);
        let found = things.iter().map(words).collect::<Vec<_>>().join(", ");
        if found != expected {
            other.push(format!("{story}\n  found {found}\n  not   {expected}"));
        }
    }
    assert!(other.is_empty(), "{}", other.join("\n"));
}

#[test]
fn a_slip_says_where_it_often_comes_from() {
    let (content, checklist) = (content(), checklist());
    let (observations, context) = lines("hold.1=3 hold.2=3 hold.tall=2+shoulder-up hold.raise=3");
    let child = Child::new(&checklist, Violin, context, &observations, 5);
    let things = child.pupil(&checklist, &content).next(Order::SideBySide, 3);
    let tall = things.iter().find(|thing| words(thing).starts_with("hold.tall")).expect("the shoulder");
    let from: Vec<Node> = ["hold.size", "hold.support"].map(|id| Node::Checkpoint(CheckpointId::new(id))).into();
    assert_eq!(tall.often_from, from);
}

/// A child seen at any checkpoints, at any levels, with any slips.
fn any_child() -> impl Strategy<Value = (Instrument, Vec<Observation>)> {
    let checklist = checklist();
    let ids: Vec<CheckpointId> = checklist.checkpoints().iter().map(|checkpoint| checkpoint.id.clone()).collect();
    let slips = checklist.slips().to_vec();
    let look = (prop::sample::select(ids), 0_u8..5, any::<prop::sample::Index>(), any::<bool>());
    (prop::sample::select(Instrument::ALL.to_vec()), prop::collection::vec(look, 0..40)).prop_map(
        move |(instrument, looks)| {
            let each = looks.into_iter().zip(0_u32..).map(|((id, seen, pick, ticked), number)| {
                let here: Vec<_> = slips
                    .iter()
                    .filter(|slip| slip.checkpoint == id && slip.instruments.contains(&instrument))
                    .collect();
                let ticked = (ticked && !here.is_empty()).then(|| pick.get(&here).id.clone());
                let seen = Level::try_from(seen).expect("a level");
                let seen = Observed::Level { level: seen, slips: ticked.into_iter().collect() };
                observation(number, 1 + number / 8, id.as_str(), seen)
            });
            (instrument, each.collect())
        },
    )
}

fn any_order() -> impl Strategy<Value = Order> {
    prop::sample::select(vec![Order::SideBySide, Order::BowFirst, Order::LeftHandFirst])
}

fn node_of(thing: &NextItem) -> Option<Node> {
    match &thing.work {
        WorkItem::Checkpoint(_, Some(slip)) => Some(Node::Slip(slip.clone())),
        WorkItem::Checkpoint(id, None) => Some(Node::Checkpoint(id.clone())),
        WorkItem::Pain(_) | WorkItem::Tapes(_) | WorkItem::Stage(_) => None,
    }
}

proptest! {
    #[test]
    fn never_more_than_three_never_a_cause_with_its_effect_and_never_a_shut_stage(
        (instrument, observations) in any_child(), order in any_order(), most in 0_usize..6, now in 1_u32..12,
    ) {
        let (content, checklist) = (content(), checklist());
        let child = Child::new(&checklist, instrument, ChildContext::default(), &observations, now);
        let things = child.pupil(&checklist, &content).next(order, most);
        prop_assert!(things.len() <= most.min(MAX_NEXT));
        let nodes: Vec<Node> = things.iter().filter_map(node_of).collect();
        for (index, one) in nodes.iter().enumerate() {
            for other in &nodes[index + 1..] {
                prop_assert!(one != other);
                prop_assert!(!content.causes.leads(instrument, one, other), "{one:?} leads to {other:?}");
                prop_assert!(!content.causes.leads(instrument, other, one), "{other:?} leads to {one:?}");
                prop_assert!(!content.causes.share_origin(instrument, one, other), "{one:?} and {other:?}");
            }
        }
        let shut: BTreeSet<&str> = child.ladder.stages.iter()
            .filter(|view| matches!(view.state, StageState::Shut(_))).map(|view| view.stage.as_str()).collect();
        for thing in &things {
            if let WorkItem::Checkpoint(id, _) = &thing.work {
                let checkpoint = checklist.checkpoint(id.as_str()).expect("known");
                prop_assert!(!shut.contains(checkpoint.stage.as_str()), "{}", words(thing));
                prop_assert!(checkpoint.wording.contains_key(&instrument));
            }
            if let WorkItem::Stage(id) = &thing.work {
                prop_assert!(!shut.contains(id.as_str()));
            }
        }
    }

    #[test]
    fn more_things_begin_with_the_same_ones((instrument, observations) in any_child(), order in any_order()) {
        let (content, checklist) = (content(), checklist());
        let child = Child::new(&checklist, instrument, ChildContext::default(), &observations, 6);
        let pupil = child.pupil(&checklist, &content);
        let three = pupil.next(order, 3);
        for fewer in 1..3 {
            let some = pupil.next(order, fewer);
            prop_assert_eq!(&three[..some.len()], &some[..]);
        }
    }

    #[test]
    fn what_does_not_apply_is_never_named(
        (instrument, observations) in any_child(), order in any_order(), which in any::<prop::sample::Index>(),
    ) {
        let (content, checklist) = (content(), checklist());
        let exempt = which.get(checklist.checkpoints()).id.clone();
        let context = ChildContext { exempt: [exempt.clone()].into(), ..ChildContext::default() };
        let child = Child::new(&checklist, instrument, context, &observations, 6);
        for thing in child.pupil(&checklist, &content).next(order, 3) {
            prop_assert!(!matches!(&thing.work, WorkItem::Checkpoint(id, _) if *id == exempt));
        }
    }

    #[test]
    fn a_group_has_two_to_six_children_who_share_its_cause_and_nobody_is_in_two(
        class in prop::collection::vec(any_child(), 0..24),
    ) {
        let (content, checklist) = (content(), checklist());
        let class: Vec<Child> = class.into_iter()
            .map(|(instrument, observations)| Child::new(&checklist, instrument, ChildContext::default(), &observations, 6)).collect();
        let members = members(&class, &checklist, &content);
        let groups = groups(&members);
        let mut seen = BTreeSet::new();
        for group in &groups {
            prop_assert!((MIN_GROUP..=MAX_GROUP).contains(&group.children.len()));
            for id in &group.children {
                prop_assert!(seen.insert(*id), "twice");
                let (_, pupil) = members.iter().find(|(other, _)| other == id).expect("a member");
                match &group.cause {
                    Node::Slip(slip) => {
                        prop_assert!(pupil.standings.values().any(|standing| standing.slips.contains(slip)));
                    }
                    Node::Checkpoint(id) => prop_assert!(pupil.standings[id].level < Level::Alone),
                    Node::Symptom(_) => prop_assert!(false, "a symptom is nothing to work on"),
                }
            }
        }
        // Nobody is left who shares a cause with somebody else who is left.
        let left: Vec<Member<'_>> = members.iter().filter(|(id, _)| !seen.contains(id)).copied().collect();
        prop_assert!(bright_row_core::progress::overview::groups(&left).is_empty());
    }

    #[test]
    fn whoever_waits_at_a_checkpoint_is_named_there_once(class in prop::collection::vec(any_child(), 0..12)) {
        let (content, checklist) = (content(), checklist());
        let class: Vec<Child> = class.into_iter()
            .map(|(instrument, observations)| Child::new(&checklist, instrument, ChildContext::default(), &observations, 6)).collect();
        let found = bottlenecks(&members(&class, &checklist, &content), &checklist);
        prop_assert!(found.windows(2).all(|pair| pair[0].waiting() >= pair[1].waiting()));
        for bottleneck in &found {
            let named: BTreeSet<ChildId> = bottleneck.below.iter().chain(&bottleneck.unseen).copied().collect();
            prop_assert_eq!(named.len(), bottleneck.waiting());
            prop_assert!(bottleneck.waiting() > 0);
        }
    }
}

fn members<'a>(class: &'a [Child], checklist: &'a Checklist, content: &'a Content) -> Vec<Member<'a>> {
    let id = |number: u128| ChildId::from(Uuid::from_u128(number));
    (1..).zip(class).map(|(number, child)| (id(number), child.pupil(checklist, content))).collect()
}

fn class_of(stories: &[(Instrument, &str)]) -> Vec<Child> {
    let checklist = checklist();
    let child = |(instrument, story): &(Instrument, &str)| {
        let (observations, context) = lines(story);
        Child::new(&checklist, *instrument, context, &observations, 5)
    };
    stories.iter().map(child).collect()
}

#[test]
fn the_class_is_read_by_what_holds_it_back() {
    let (content, checklist) = (content(), checklist());
    let class = class_of(&[
        (Violin, "hold.1=3 hold.2=3 hold.raise=3 hold.tall=1"),
        (Violin, "hold.1=3 hold.2=3 hold.raise=3 hold.tall=1+head-down"),
        (Viola, "hold.1=3 hold.2=3 hold.raise=3"),
        (Cello, "hold.1=3 hold.2=1"),
    ]);
    let members = members(&class, &checklist, &content);
    let found = bottlenecks(&members, &checklist);
    let mut text = String::new();
    for bottleneck in &found {
        writeln!(
            text,
            "{} {} below, {} unseen",
            bottleneck.checkpoint,
            bottleneck.below.len(),
            bottleneck.unseen.len()
        )
        .expect("text");
    }
    text += "\n";
    for cell in cells(&members, &checklist).iter().filter(|cell| cell.strand == Strand::Hold) {
        let bottleneck =
            cell.bottleneck.as_ref().map(|bottleneck| format!("{} {}", bottleneck.checkpoint, bottleneck.waiting()));
        let (name, children) = (cell.instrument.name(), cell.children);
        writeln!(text, "{name} x{children} {:.2} {:?} {bottleneck:?}", cell.glow, cell.at_stage).expect("text");
    }
    insta::assert_snapshot!(text);
}

#[test]
fn seven_who_share_a_cause_make_two_groups_and_sections_stay_together() {
    let (content, checklist) = (content(), checklist());
    let story = "hold.1=3 bow.pluck=2+pluck-up";
    let class = class_of(&[
        (Cello, story),
        (Violin, story),
        (Cello, story),
        (Violin, story),
        (Violin, story),
        (Cello, story),
        (Violin, story),
        (Bass, "bow.pluck=2+pluck-nail"),
    ]);
    let found = groups(&members(&class, &checklist, &content));
    let in_words: Vec<(String, Vec<u128>)> = found
        .iter()
        .map(|group| (format!("{:?}", group.cause), group.children.iter().map(|id| id.uuid().as_u128()).collect()))
        .collect();
    insta::assert_debug_snapshot!(in_words);
}

#[test]
fn the_order_is_the_one_that_the_class_chose() {
    let approach = content().approach;
    let order = |option: &str| Order::of(&approach, &support::choosing(&[("order", option)]));
    assert_eq!(
        [order("side-by-side"), order("bow-first"), order("left-hand-first")],
        [Order::SideBySide, Order::BowFirst, Order::LeftHandFirst]
    );
    let most = |option: &str| approach.next_at_once(&support::choosing(&[("things-at-once", option)]));
    assert_eq!(["three", "two", "one", "many"].map(most), [3, 2, 1, 3]);
}
