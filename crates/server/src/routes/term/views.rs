//! A class's term as it is answered.

use std::collections::BTreeMap;

use bright_row_core::craft::instrument::Instrument;
use bright_row_core::craft::level::Level;
use bright_row_core::craft::strand::Strand;
use bright_row_core::number::share;
use bright_row_core::term::group::{Change, Verdict};
use bright_row_core::term::looks::Waits;
use bright_row_core::{ChildId, GroupId};
use chrono::NaiveDate;
use serde::Serialize;
use serde_with::skip_serializing_none;
use utoipa::ToSchema;

use crate::routes::lessons::overview::ChildName;

/// How a class grew, meeting by meeting.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct TermView {
    /// Those that have been, the first first.
    pub(super) meetings: Vec<MeetingThen>,
    /// Days off between the first meeting and today, those beside each other as one.
    pub(super) holidays: Vec<Holiday>,
    /// Every stage, in ladder order.
    pub(super) stages: Vec<StageThen>,
    /// How long looks waited, by strand.
    pub(super) strands: Vec<StrandWaits>,
    /// How long visits waited, by section.
    pub(super) sections: Vec<SectionWaits>,
    /// Slips that were ticked, those of most children first.
    pub(super) slips: Vec<SlipKind>,
    /// The small groups that were kept, the newest first.
    pub(super) groups: Vec<KeptGroup>,
    /// Everybody, by seat.
    pub(super) children: Vec<ChildThen>,
}

/// The class when a meeting was over.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct MeetingThen {
    /// From 1.
    pub(super) meeting: u32,
    pub(super) day: NaiveDate,
    /// Who was in the class.
    pub(super) children: usize,
    /// How far each strand was learned on the mean, 0 to 1, in their order.
    pub(super) strands: Vec<f64>,
    /// How bright each section was, 0 to 1.
    pub(super) sections: BTreeMap<Instrument, f64>,
    /// Children at whose chair somebody was.
    pub(super) visited: usize,
    /// How long looking took, in minutes.
    pub(super) minutes: f64,
    /// Sets of markers that were laid, proved, thinned.
    pub(super) markers: MarkersWorked,
}

/// How many instruments' markers were worked on at a meeting, or in the days after it.
#[derive(Default, Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct MarkersWorked {
    pub(super) laid: usize,
    pub(super) proved: usize,
    pub(super) thinned: usize,
}

/// Days without a meeting.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct Holiday {
    pub(super) first: NaiveDate,
    pub(super) last: NaiveDate,
    /// May be empty.
    pub(super) reason: String,
}

/// A stage, and when it was reached.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct StageThen {
    pub(super) id: String,
    pub(super) name: String,
    pub(super) strand: Strand,
    /// By the whole class first, then by each section.
    pub(super) reached: Vec<ReachedView>,
}

/// How many reached a stage, and when.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct ReachedView {
    /// Absent for the whole class.
    pub(super) section: Option<Instrument>,
    /// Children who ever reached it.
    pub(super) there: usize,
    pub(super) of: usize,
    /// The day by which four of five had.
    pub(super) most: Option<NaiveDate>,
}

/// How long looks waited, in meetings.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct WaitsView {
    /// How many there were.
    looked: usize,
    /// From one to the next, on the mean.
    mean: Option<f64>,
    /// The longest, the present one included.
    longest: u32,
    /// The present one.
    now: u32,
}

impl From<Waits> for WaitsView {
    fn from(Waits { looked, mean, longest, now }: Waits) -> Self {
        Self { looked, mean: mean.map(share), longest, now }
    }
}

/// How long looks at a strand waited.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct StrandWaits {
    pub(super) strand: Strand,
    pub(super) waits: WaitsView,
}

/// How long visits waited in a section.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct SectionWaits {
    pub(super) section: Instrument,
    pub(super) children: usize,
    pub(super) waits: WaitsView,
}

/// A slip, and how long it stayed.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct SlipKind {
    pub(super) slip: String,
    pub(super) name: String,
    /// The name of the checkpoint that it belongs to.
    pub(super) checkpoint_name: String,
    pub(super) strand: Option<Strand>,
    /// Children in whom it was seen.
    pub(super) children: usize,
    /// Children in whom it is still there.
    pub(super) still: usize,
    /// After how many meetings it was gone, on the mean.
    pub(super) gone_after: Option<f64>,
    /// Each time, the first first.
    pub(super) times: Vec<SlipTime>,
}

/// A slip of one child.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct SlipTime {
    pub(super) child: ChildId,
    /// The meeting at which it was first ticked.
    pub(super) from: u32,
    /// The meeting at which it was gone; absent while it is still there.
    pub(super) until: Option<u32>,
}

/// A small group, and whether it helped.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct KeptGroup {
    pub(super) id: GroupId,
    /// What its children share.
    pub(super) name: String,
    pub(super) checkpoint: String,
    pub(super) checkpoint_name: String,
    /// The day on which it began.
    pub(super) began: NaiveDate,
    /// The day on which it ended; absent while it goes on.
    pub(super) ended: Option<NaiveDate>,
    #[schema(value_type = String)]
    pub(super) verdict: Verdict,
    pub(super) children: Vec<GroupChild>,
    /// Others who were seen below Alone there when it began.
    pub(super) others: usize,
    /// How many of them were looked at since.
    pub(super) others_looked: usize,
    /// How many of them came further meanwhile.
    pub(super) others_further: usize,
}

/// A child of a small group, before and after.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct GroupChild {
    pub(super) child: ChildName,
    /// 0 to 4; absent where nobody had looked.
    before: Option<u8>,
    after: Option<u8>,
    /// Whether somebody looked since.
    looked: bool,
    further: bool,
}

impl GroupChild {
    pub(super) fn new(child: ChildName, change: &Change) -> Self {
        Self {
            child,
            before: change.before.map(Level::number),
            after: change.after.map(Level::number),
            looked: change.looked,
            further: change.further,
        }
    }
}

/// A child over the term.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct ChildThen {
    pub(super) child: ChildName,
    /// It is in another class now: shown of a class whose year is over.
    pub(super) moved: bool,
    /// The first meeting at which it was here, from 1.
    pub(super) joined: u32,
    /// How far each strand is learned now, 0 to 1, in their order.
    pub(super) strands: Vec<f64>,
    /// How far they were when the child was here first.
    pub(super) strands_then: Vec<f64>,
    pub(super) waits: WaitsView,
    /// When stages were reached, the first first; meeting 0 is before the first one.
    pub(super) reached: Vec<ReachedAt>,
    /// When it got another instrument or another size, the first first.
    pub(super) changes: Vec<InstrumentChange>,
}

/// When a stage was reached.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct ReachedAt {
    pub(super) stage: String,
    pub(super) meeting: u32,
}

/// Another instrument in the place of one.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct InstrumentChange {
    pub(super) meeting: u32,
    /// `violin 1/2`
    pub(super) from: String,
    pub(super) to: String,
}
