//! What the calls take and answer, where it is not a type of the core by itself.

use std::collections::{BTreeMap, BTreeSet};

use bright_row_core::craft::drills::{Drill, DrillLevel};
use bright_row_core::craft::id::StageId;
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::figure::{FigureSpec, Parameter, Settings, View};
use bright_row_core::progress::new_observation::NewObservation;
use bright_row_core::progress::page::basis::{ChildBasis, ClassRules};
use bright_row_core::progress::page::context::{AccommodationView, MadeView, PainView};
use bright_row_core::progress::page::history::History;
use bright_row_core::progress::page::progress::ChildProgress;
use bright_row_core::progress::page::room_child::RoomChild;
use bright_row_core::round::asked::{Asked, ClassToWalk, ScanWorth};
use bright_row_core::round::detail::ScanKey;
use bright_row_core::round::event::{RoundEvent, RoundStop};
use bright_row_core::round::observed::RoundObservation;
use bright_row_core::round::state::{RoundState, StopState};
use bright_row_core::setup::seat_plan::{SeatChange, SeatPlan};
use bright_row_core::tapes::bench::{BenchBasis, MarkersNow};
use bright_row_core::tapes::new_entry::NewTapeEntry;
use bright_row_core::{ChildId, RoundId};
use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};

/// Types of a call, in and out.
macro_rules! types {
    ($($(#[$doc:meta])* struct $name:ident { $($(#[$field_doc:meta])* $field:ident: $type:ty,)+ })+) => {$(
        $(#[$doc])*
        #[derive(Serialize, Deserialize)]
        #[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
        #[serde(rename_all = "camelCase")]
        pub(crate) struct $name { $($(#[$field_doc])* pub(crate) $field: $type,)+ }
    )+};
}

/// Questions only: they hold types of the core that go in and never out.
macro_rules! questions {
    ($($(#[$doc:meta])* struct $name:ident { $($(#[$field_doc:meta])* $field:ident: $type:ty,)+ })+) => {$(
        $(#[$doc])*
        #[derive(Deserialize)]
        #[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
        #[serde(rename_all = "camelCase")]
        pub(crate) struct $name { $($(#[$field_doc])* pub(crate) $field: $type,)+ }
    )+};
}

questions! {
    /// A drill, and how it is played.
    struct DrillQuestion {
        drill: Drill,
        /// Absent: the easiest.
        level: Option<DrillLevel>,
        /// Beats a minute.
        tempo: u32,
    }
    /// A drawing.
    struct FigureQuestion {
        instrument: Instrument,
        spec: FigureSpec,
        /// As in a mirror.
        mirrored: bool,
        /// How it was before: drawn from there on the way to `spec`, or behind it.
        before: Option<FigureSpec>,
        /// How far on the way from `before`, 0 to 1; absent: `spec` with `before` as a fine line behind it.
        share: Option<f64>,
    }
    /// A view.
    struct ViewQuestion {
        instrument: Instrument,
        view: View,
    }
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
    /// A plan of seats and a change by hand.
    struct SeatQuestion {
        plan: SeatPlan,
        change: SeatChange,
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
        pub(crate) struct $name { $($(#[$field_doc])* pub(crate) $field: $type,)+ }
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
    /// The numbers of a view, and what is usual of each.
    struct ViewNumbers {
        parameters: &'static [Parameter],
        usual: Settings,
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
}
