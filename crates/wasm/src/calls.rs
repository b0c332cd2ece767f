//! The calls: each names what it takes, what it answers, and the rule that answers.

use std::cell::RefCell;

use bright_row_core::figure::{Figure, FigureSpec, picture};
use bright_row_core::lessons::drill::DrillProgram;
use bright_row_core::progress::page::basis::{ChildBasis, ClassRules};
use bright_row_core::progress::page::child_now::{ChildNow, Moment};
use bright_row_core::progress::page::progress::{ChildProgress, PageContext};
use bright_row_core::round::asked::ScanWorth;
use bright_row_core::round::observed::observations_of;
use bright_row_core::round::question::PlannedRound;
use bright_row_core::round::state::RoundState;
use bright_row_core::setup::fit::{FitAnswer, FittingQuestion};
use bright_row_core::setup::seat_plan::SeatPlan;
use serde::Serialize;
use serde::de::DeserializeOwned;
use serde_json::value::RawValue;

use crate::shapes::{
    AddQuestion, BenchNow, BenchQuestion, ChildPageNow, ChildQuestion, CloseUpQuestion, DrillQuestion, EntryAnswer,
    EntryQuestion, FigureQuestion, Learnt, PlanQuestion, RoomNow, RoomQuestion, RoundEvents, RoundNow,
    RoundObservations, RoundSeen, RulesToLearn, Scans, ScansQuestion, SeatQuestion, Seconds, Stops, StopsQuestion,
    ViewNumbers, ViewQuestion,
};

/// Why a question has no answer.
#[derive(Debug, PartialEq, Eq)]
pub enum Fault {
    /// There is no such call.
    NoSuchCall(String),
    /// It is not what the call takes.
    Unreadable(String),
}

impl std::fmt::Display for Fault {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        match self {
            Self::NoSuchCall(name) => write!(f, "there is no call {name}"),
            Self::Unreadable(why) => write!(f, "the question cannot be read: {why}"),
        }
    }
}

thread_local! {
    /// Rules of classes by the key that the page gave them, the latest last: they are large and change seldom.
    static RULES: RefCell<Vec<(String, ClassRules)>> = const { RefCell::new(Vec::new()) };
}

/// Of so many classes the rules are known at once.
const MAX_RULES: usize = 4;

macro_rules! calls {
    ($($(#[doc = $doc:literal])+ $feature:tt $name:literal $question:ident -> $answer:ident = $rule:expr;)+) => {
        fn answer_to(name: &str, question: &str) -> Result<Vec<u8>, Fault> {
            match name {
                $(#[cfg(feature = $feature)] $name => answered::<$question, $answer>(question, $rule),)+
                other => Err(Fault::NoSuchCall(other.chars().take(40).collect())),
            }
        }

        /// The names of the calls.
        pub const NAMES: &[&str] = &[$($name),+];

        #[cfg(feature = "schema")]
        pub(crate) fn describe(into: &mut crate::description::Calls) {
            $(into.call::<$question, $answer>($name, concat!($($doc),+));)+
        }
    };
}

calls! {
    /// Whom to visit and what to look at.
    "rules" "planRound" PlanQuestion -> PlannedRound = |PlanQuestion { class, asked }| class.question(&asked).plan();
    /// How the round begun last stands, from everything that happened.
    "rules" "roundNow" RoundEvents -> RoundNow = |RoundEvents { events, device }| {
        let state = RoundState::of(&events);
        RoundNow { todo: state.as_ref().map(|state| state.todo(&device)).unwrap_or_default(), state }
    };
    /// The observations of a round that count.
    "rules" "roundObservations" RoundSeen -> RoundObservations = |RoundSeen { round, known, on_their_way }| {
        RoundObservations { observations: observations_of(round, known, on_their_way) }
    };
    /// What looks from afar take and spare with those who are here.
    "rules" "scans" ScansQuestion -> Scans = |ScansQuestion { class, absent, more }| {
        let mut scans = class.scans_worth(&absent);
        scans.extend(more.into_iter().map(|scan| ScanWorth {
            seconds: class.scan_seconds(&scan.part, &absent),
            saves: 0,
            target: scan.target,
            part: scan.part,
        }));
        Scans { scans }
    };
    /// What each stop was planned to take.
    "rules" "stopSeconds" StopsQuestion -> Seconds = |StopsQuestion { class, stops }| {
        Seconds { seconds: stops.iter().map(|stop| class.stop_seconds(stop)).collect() }
    };
    /// The stops with a child that was added by hand.
    "rules" "withStop" AddQuestion -> Stops = |AddQuestion { class, stops, child }| {
        Stops { stops: class.with_stop(stops, child) }
    };
    /// The stops with those who get a look close up.
    "rules" "withCloseUp" CloseUpQuestion -> Stops = |CloseUpQuestion { class, stops, tapped, target }| {
        Stops { stops: class.with_close_up(stops, &tapped, &target) }
    };
    /// The rules of a class, to be known under a key.
    "rules" "learnRules" RulesToLearn -> Learnt = learn;
    /// Children with observations on their way, as the room shows them.
    "rules" "roomNow" RoomQuestion -> RoomNow = room_now;
    /// What changes on a child's page with observations on their way.
    "rules" "childNow" ChildQuestion -> ChildPageNow = child_now;
    /// A drill as it is run, beat by beat.
    "rules" "drillProgram" DrillQuestion -> DrillProgram = |DrillQuestion { drill, level, tempo }| drill.program(level, tempo);
    /// What measures come to: the size and the first numbers.
    "rules" "fit" FittingQuestion -> FitAnswer = FittingQuestion::answer;
    /// An instrument's markers with work on its way.
    "rules" "benchNow" BenchQuestion -> BenchNow = |BenchQuestion { basis, pending }| {
        BenchNow { markers: basis.with(&pending).markers().ok() }
    };
    /// An entry that is being typed: what of it cannot be, else where the markers lie with it.
    "rules" "tapeEntry" EntryQuestion -> EntryAnswer = |EntryQuestion { basis, pending, entry }| {
        let basis = basis.with(&pending);
        let problem = basis.problem(&entry);
        let markers = if problem.is_none() { basis.with(&[entry]).markers().ok() } else { None };
        EntryAnswer { problem, markers }
    };
    /// A drawing: a view and its numbers as shapes.
    "figures" "figure" FigureQuestion -> Figure = |FigureQuestion { instrument, spec, mirrored, before, share }| {
        picture(&spec, instrument, before.as_ref(), share, mirrored)
    };
    /// What can be set of a view.
    "figures" "viewNumbers" ViewQuestion -> ViewNumbers = |ViewQuestion { instrument, view }| ViewNumbers {
        parameters: view.parameters(),
        usual: FigureSpec::usual(view).settings(instrument),
    };
    /// A plan of seats with a change by hand.
    "rules" "seatPlan" SeatQuestion -> SeatPlan = |SeatQuestion { plan, change }| plan.with(change);
}

fn learn(RulesToLearn { key, rules }: RulesToLearn) -> Learnt {
    RULES.with_borrow_mut(|known| {
        known.retain(|(other, _)| *other != key);
        if known.len() >= MAX_RULES {
            known.remove(0);
        }
        known.push((key, rules));
    });
    Learnt { known: true }
}

/// What `by` makes of the rules of a key; nothing where they are not known.
fn with_rules<T: Default>(key: &str, by: impl FnOnce(&ClassRules) -> T) -> T {
    RULES.with_borrow(|known| {
        known.iter().find(|(other, _)| other == key).map(|(_, rules)| by(rules)).unwrap_or_default()
    })
}

fn room_now(question: RoomQuestion) -> RoomNow {
    let RoomQuestion { rules, meeting, now, basis, pending } = question;
    let at = Moment { meeting, now };
    let children = with_rules(&rules, |rules| {
        let one = |basis: &ChildBasis| Some(ChildNow::of(rules, basis, &pending, at)?.room_child(basis));
        basis.iter().filter_map(one).collect()
    });
    RoomNow { children }
}

fn child_now(question: ChildQuestion) -> ChildPageNow {
    let ChildQuestion { rules, meeting, now, me, basis, accommodations, opened_by, pain, history, pending } = question;
    let page = PageContext { accommodations, opened: opened_by, pain, history };
    let progress = with_rules(&rules, |rules| {
        let now = ChildNow::of(rules, &basis, &pending, Moment { meeting, now })?;
        Some(ChildProgress::of(rules, &basis, page, &now, &me))
    });
    ChildPageNow { progress }
}

fn answered<Q: DeserializeOwned, A: Serialize>(question: &str, rule: impl Fn(Q) -> A) -> Result<Vec<u8>, Fault> {
    let question = crate::tree::read(question).map_err(|error| Fault::Unreadable(error.to_string()))?;
    serde_json::to_vec(&(true, rule(question))).map_err(|error| Fault::Unreadable(error.to_string()))
}

/// The answer to a question, as JSON: `[true, ...]` or `[false, "why"]`.
#[must_use]
pub fn ask(question: &[u8]) -> Vec<u8> {
    let text = std::str::from_utf8(question).map_err(|error| Fault::Unreadable(error.to_string()));
    let read = text.and_then(|text| {
        serde_json::from_str::<(&str, &RawValue)>(text).map_err(|error| Fault::Unreadable(error.to_string()))
    });
    let answer = read.and_then(|(name, question)| answer_to(name, question.get()));
    answer.unwrap_or_else(|fault| serde_json::to_vec(&(false, fault.to_string())).expect("a sentence is JSON"))
}
