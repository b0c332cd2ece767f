//! The calls: each names what it takes, what it answers, and the rule that answers.

use std::cell::RefCell;
use std::collections::{BTreeMap, BTreeSet};

use bright_row_core::craft::id::StageId;
use bright_row_core::progress::new_observation::NewObservation;
use bright_row_core::progress::page::basis::{ChildBasis, ClassRules};
use bright_row_core::progress::page::child_now::{ChildNow, Moment};
use bright_row_core::progress::page::context::{AccommodationView, MadeView, PainView};
use bright_row_core::progress::page::history::History;
use bright_row_core::progress::page::progress::{ChildProgress, Told};
use bright_row_core::progress::page::room_child::RoomChild;
use bright_row_core::round::asked::{Asked, ClassToWalk, ScanWorth};
use bright_row_core::round::event::{RoundEvent, RoundStop};
use bright_row_core::round::observed::{RoundObservation, observations_of};
use bright_row_core::round::question::PlannedRound;
use bright_row_core::round::state::{RoundState, ScanKey, StopState};
use bright_row_core::setup::fit::{FitAnswer, FittingQuestion};
use bright_row_core::setup::rows::even_rows;
use bright_row_core::tapes::bench::{BenchBasis, MarkersNow};
use bright_row_core::tapes::new_entry::NewTapeEntry;
use bright_row_core::{ChildId, RoundId};
use chrono::{DateTime, Utc};
use serde::de::DeserializeOwned;
use serde::{Deserialize, Serialize};
use serde_json::value::RawValue;

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

/// Types of a call, in and out.
macro_rules! types {
    ($($(#[$doc:meta])* struct $name:ident { $($(#[$field_doc:meta])* $field:ident: $type:ty,)+ })+) => {$(
        $(#[$doc])*
        #[derive(Serialize, Deserialize)]
        #[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
        #[serde(rename_all = "camelCase")]
        pub(crate) struct $name { $($(#[$field_doc])* $field: $type,)+ }
    )+};
}

/// Questions only: they hold types of the core that go in and never out.
macro_rules! questions {
    ($($(#[$doc:meta])* struct $name:ident { $($(#[$field_doc:meta])* $field:ident: $type:ty,)+ })+) => {$(
        $(#[$doc])*
        #[derive(Deserialize)]
        #[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
        #[serde(rename_all = "camelCase")]
        pub(crate) struct $name { $($(#[$field_doc])* $field: $type,)+ }
    )+};
}

thread_local! {
    /// Rules of classes by the key that the page gave them, the latest last: they are large and change seldom.
    static RULES: RefCell<Vec<(String, ClassRules)>> = const { RefCell::new(Vec::new()) };
}

/// Of so many classes the rules are known at once.
const MAX_RULES: usize = 4;

questions! {
    /// Rules to know from now on.
    struct RulesToLearn {
        /// By which they are asked for.
        key: String,
        /// As the server sends them.
        #[cfg_attr(feature = "schema", schema(value_type = Object))]
        rules: ClassRules,
    }
    /// Observations on their way, and the children they are of.
    struct RoomQuestion {
        /// Of rules that were learnt.
        rules: String,
        meeting: u32,
        now: DateTime<Utc>,
        /// As the server sends them.
        #[cfg_attr(feature = "schema", schema(value_type = Vec<Object>))]
        basis: Vec<ChildBasis>,
        pending: Vec<NewObservation>,
    }
    /// Observations on their way, and the page of the child they are of as the server sent it.
    struct ChildQuestion {
        /// Of rules that were learnt.
        rules: String,
        meeting: u32,
        now: DateTime<Utc>,
        /// By name.
        me: String,
        #[cfg_attr(feature = "schema", schema(value_type = Object))]
        basis: ChildBasis,
        accommodations: Vec<AccommodationView>,
        #[cfg_attr(feature = "schema", schema(value_type = BTreeMap<String, MadeView>))]
        opened_by: BTreeMap<StageId, MadeView>,
        pain: Vec<PainView>,
        history: History,
        pending: Vec<NewObservation>,
    }
    /// An instrument at the bench, and work on it that is on its way.
    struct BenchQuestion {
        /// As the server sends it.
        #[cfg_attr(feature = "schema", schema(value_type = Object))]
        basis: BenchBasis,
        pending: Vec<NewTapeEntry>,
    }
    /// An instrument at the bench, and work on it that is being typed.
    struct EntryQuestion {
        /// As the server sends it.
        #[cfg_attr(feature = "schema", schema(value_type = Object))]
        basis: BenchBasis,
        pending: Vec<NewTapeEntry>,
        entry: NewTapeEntry,
    }
    /// A class and what its plan is asked for.
    struct PlanQuestion {
        class: ClassToWalk,
        asked: Asked,
    }
    /// A class and who is not here.
    struct ScansQuestion {
        class: ClassToWalk,
        absent: BTreeSet<ChildId>,
        /// Any others, that are not among the class's: `scans` first answers for those of the class, then for these.
        more: Vec<ScanKey>,
    }
    /// A class and stops to be timed.
    struct StopsQuestion {
        class: ClassToWalk,
        stops: Vec<RoundStop>,
    }
    /// A class, the stops of its plan, and one who is added by hand.
    struct AddQuestion {
        class: ClassToWalk,
        stops: Vec<RoundStop>,
        child: ChildId,
    }
    /// A class, the stops of its plan, and those who were tapped in a look from afar.
    struct CloseUpQuestion {
        class: ClassToWalk,
        stops: Vec<RoundStop>,
        tapped: Vec<ChildId>,
        target: String,
    }
}

/// Answers only: types of the core that go out and never in.
macro_rules! answers {
    ($($(#[$doc:meta])* struct $name:ident { $($(#[$field_doc:meta])* $field:ident: $type:ty,)+ })+) => {$(
        $(#[$doc])*
        #[derive(Serialize)]
        #[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
        #[serde(rename_all = "camelCase")]
        pub(crate) struct $name { $($(#[$field_doc])* $field: $type,)+ }
    )+};
}

answers! {
    /// What of an entry cannot be, or the markers with it.
    struct EntryAnswer {
        #[serde(skip_serializing_if = "Option::is_none")]
        problem: Option<String>,
        #[serde(skip_serializing_if = "Option::is_none")]
        markers: Option<MarkersNow>,
    }
    /// The markers of an instrument; absent where its string cannot be.
    struct BenchNow {
        #[serde(skip_serializing_if = "Option::is_none")]
        markers: Option<MarkersNow>,
    }
    /// Whether rules are known.
    struct Learnt {
        known: bool,
    }
    /// The children as the room shows them; those of whom too little is known are left out.
    struct RoomNow {
        children: Vec<RoomChild>,
    }
    /// What changes on a child's page; absent where too little is known.
    struct ChildPageNow {
        #[serde(skip_serializing_if = "Option::is_none")]
        progress: Option<ChildProgress>,
    }
}

types! {
    /// What happened in rounds, and the device that asks.
    struct RoundEvents {
        events: Vec<RoundEvent>,
        device: String,
    }
    /// The round begun last, if one was.
    struct RoundNow {
        #[serde(default, skip_serializing_if = "Option::is_none")]
        state: Option<RoundState>,
        /// The stops that wait for the device.
        todo: Vec<StopState>,
    }
    /// Observations that the server has and that are on their way.
    struct RoundSeen {
        round: RoundId,
        known: Vec<RoundObservation>,
        on_their_way: Vec<NewObservation>,
    }
    /// Those that count, the latest last.
    struct RoundObservations {
        observations: Vec<RoundObservation>,
    }
    /// Looks from afar.
    struct Scans {
        scans: Vec<ScanWorth>,
    }
    /// Seconds, in the order of what was asked.
    struct Seconds {
        seconds: Vec<u32>,
    }
    /// The stops of a plan.
    struct Stops {
        stops: Vec<RoundStop>,
    }
    /// Chairs to share out.
    struct Chairs {
        count: usize,
        rows: u8,
    }
    /// Chairs of each row.
    struct Rows {
        rows: Vec<u8>,
    }
}

macro_rules! calls {
    ($($(#[doc = $doc:literal])+ $name:literal $question:ident -> $answer:ident = $rule:expr;)+) => {
        fn answer_to(name: &str, question: &str) -> Result<Vec<u8>, Fault> {
            match name {
                $($name => answered::<$question, $answer>(question, $rule),)+
                other => Err(Fault::NoSuchCall(other.chars().take(40).collect())),
            }
        }

        #[cfg(feature = "schema")]
        pub(crate) fn describe(into: &mut crate::description::Calls) {
            $(into.call::<$question, $answer>($name, concat!($($doc),+));)+
        }
    };
}

calls! {
    /// Whom to visit and what to look at.
    "planRound" PlanQuestion -> PlannedRound = |PlanQuestion { class, asked }| class.question(&asked).plan();
    /// How the round begun last stands, from everything that happened.
    "roundNow" RoundEvents -> RoundNow = |RoundEvents { events, device }| {
        let state = RoundState::of(&events);
        RoundNow { todo: state.as_ref().map(|state| state.todo(&device)).unwrap_or_default(), state }
    };
    /// The observations of a round that count.
    "roundObservations" RoundSeen -> RoundObservations = |RoundSeen { round, known, on_their_way }| {
        RoundObservations { observations: observations_of(round, known, on_their_way) }
    };
    /// What looks from afar take and spare with those who are here.
    "scans" ScansQuestion -> Scans = |ScansQuestion { class, absent, more }| {
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
    "stopSeconds" StopsQuestion -> Seconds = |StopsQuestion { class, stops }| {
        Seconds { seconds: stops.iter().map(|stop| class.stop_seconds(stop)).collect() }
    };
    /// The stops with a child that was added by hand.
    "withStop" AddQuestion -> Stops = |AddQuestion { class, stops, child }| {
        Stops { stops: class.with_stop(stops, child) }
    };
    /// The stops with those who get a look close up.
    "withCloseUp" CloseUpQuestion -> Stops = |CloseUpQuestion { class, stops, tapped, target }| {
        Stops { stops: class.with_close_up(stops, &tapped, &target) }
    };
    /// The rules of a class, to be known under a key.
    "learnRules" RulesToLearn -> Learnt = learn;
    /// Children with observations on their way, as the room shows them.
    "roomNow" RoomQuestion -> RoomNow = room_now;
    /// What changes on a child's page with observations on their way.
    "childNow" ChildQuestion -> ChildPageNow = child_now;
    /// What measures come to: the size and the first numbers.
    "fit" FittingQuestion -> FitAnswer = FittingQuestion::answer;
    /// An instrument's markers with work on its way.
    "benchNow" BenchQuestion -> BenchNow = |BenchQuestion { basis, pending }| {
        BenchNow { markers: basis.with(&pending).markers().ok() }
    };
    /// An entry that is being typed: what of it cannot be, else where the markers lie with it.
    "tapeEntry" EntryQuestion -> EntryAnswer = |EntryQuestion { basis, pending, entry }| {
        let basis = basis.with(&pending);
        let problem = basis.problem(&entry);
        let markers = if problem.is_none() { basis.with(&[entry]).markers().ok() } else { None };
        EntryAnswer { problem, markers }
    };
    /// Chairs in rows as evenly as can be, the fuller rows at the back.
    "evenRows" Chairs -> Rows = |Chairs { count, rows }| Rows { rows: even_rows(count, rows) };
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
    let told = Told { accommodations, opened: opened_by, pain, history };
    let progress = with_rules(&rules, |rules| {
        let now = ChildNow::of(rules, &basis, &pending, Moment { meeting, now })?;
        Some(ChildProgress::of(rules, &basis, told, &now, &me))
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
