//! What a round needs, as the page takes it along.
//! Each child with what could be looked at there, its points and its reasons; what has happened in rounds today.

use std::collections::BTreeMap;

use bright_row_core::craft::instrument::Instrument;
use bright_row_core::craft::strand::Strand;
use bright_row_core::round::event::RoundEvent;
use bright_row_core::round::observed::RoundObservation;
use bright_row_core::round::scans::PartKind;
use bright_row_core::{ChildId, ClassId};
use chrono::NaiveDate;
use serde::Serialize;
use serde_with::skip_serializing_none;
use utoipa::ToSchema;

use crate::routes::round::check::CheckView;

/// Everything a round needs.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct RoundKit {
    pub(super) class_id: ClassId,
    pub(super) class_name: String,
    /// The day it is where the class meets.
    pub(super) today: NaiveDate,
    /// The meeting it is read for.
    pub(super) meeting: u32,
    /// As last time; a short day's own.
    pub(super) minutes: u32,
    pub(super) visit_seconds: u32,
    pub(super) max_checks_per_child: u32,
    pub(super) must_see_after_meetings: u32,
    pub(super) strands: Vec<RoundStrand>,
    /// Rows and sections.
    pub(super) parts: Vec<PartView>,
    /// In walking order.
    pub(super) children: Vec<RoundChild>,
    /// What can be resolved from afar, most saved first.
    pub(super) scans: Vec<ScanView>,
    /// What stages, checkpoints and slips are called, by id.
    pub(super) names: BTreeMap<String, String>,
    /// What happened in rounds today, oldest first.
    pub(super) events: Vec<RoundEvent>,
    /// The observations made in them, oldest first.
    pub(super) observations: Vec<RoundObservation>,
}

/// A strand and what it is called.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct RoundStrand {
    pub(super) key: Strand,
    pub(super) name: String,
}

/// A row or a section.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct PartView {
    /// `row-2`, `cello`.
    pub(super) key: String,
    #[serde(flatten)]
    pub(super) kind: PartKind,
    pub(super) children: Vec<ChildId>,
}

/// A child that could be visited.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct RoundChild {
    pub(super) id: ChildId,
    pub(super) name: String,
    pub(super) instrument: Instrument,
    /// Its row; absent without a seat.
    pub(super) row: Option<u8>,
    /// Its place along the walk.
    pub(super) seat_order: u32,
    pub(super) meetings_unseen: u32,
    /// Whether anybody ever was at its chair.
    pub(super) visited: bool,
    pub(super) visit_points: u32,
    /// It said that it hurts and nobody has said what was done.
    pub(super) pain: bool,
    /// In the order of the ladder.
    pub(super) checks: Vec<CheckView>,
    /// Stages and checkpoints at which a scan from afar speaks of it.
    pub(super) can_be_scanned: Vec<String>,
    /// Those of them that are neither open nor due: for a look close up.
    pub(super) close_up: Vec<CheckView>,
}

/// A look at many from afar.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct ScanView {
    /// A checkpoint or a stage.
    pub(super) target: String,
    pub(super) name: String,
    pub(super) strand: Strand,
    /// What is there when it is right, by instrument.
    pub(super) look_fors: Vec<LookForView>,
    /// Which row or section.
    pub(super) part: String,
    /// Whose look it resolves.
    pub(super) resolves: Vec<ChildId>,
    pub(super) seconds: u32,
    /// Seconds of checks it saves, less its own; 0 for those that only could be done.
    pub(super) saves: u32,
}

/// What is there when it is right, on some instruments.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct LookForView {
    pub(super) instruments: Vec<Instrument>,
    pub(super) look_for: String,
}
