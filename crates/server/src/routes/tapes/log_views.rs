//! What was done to an instrument's markers and seen of them, and which may go next.

use bright_row_core::TapeEventId;
use bright_row_core::craft::level::Level;
use bright_row_core::tapes::assessment::MarkerAssessment;
use bright_row_core::tapes::finger::Spot;
use bright_row_core::tapes::log::TapeWork;
use bright_row_core::tapes::marker_set::MarkerSet;
use bright_row_core::tapes::thinning::{LANDED_LOOKS, NotYet, next_to_go};
use bright_row_store::instruments::tape_looks::Look;
use bright_row_store::instruments::tapes::Logged;
use chrono::{DateTime, Utc};
use serde::Serialize;
use serde_with::skip_serializing_none;
use utoipa::ToSchema;

use crate::use_cases::snapshot::Learner;

/// Which marker may go next, and why or why not.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct ThinningView {
    /// The marker that may go.
    next: Option<Spot>,
    /// What is waited for; absent when one may go.
    wanting: Option<ThinningWants>,
    /// Who has the instrument; absent when nobody of the class does.
    child: Option<String>,
    /// In how many looks at different meetings, the last ones, the child landed in tune with eyes away.
    landed_looks: u32,
    /// How many are wanted.
    wanted_looks: u32,
}

/// What is still wanting before a marker may go.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub enum ThinningWants {
    /// A marker that is on.
    Marker,
    /// Somebody of the class who has the instrument.
    Child,
    /// More looks in which the child lands in tune with eyes away.
    Landing,
    /// Every marker that is on heard true.
    Ear,
}

/// An entry of the log.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct LogEntry {
    /// Absent for a look in class.
    id: Option<TapeEventId>,
    at: DateTime<Utc>,
    by: String,
    /// What was done; absent for a look in class.
    work: Option<TapeWork>,
    /// What was seen in class.
    look: Option<TapeLook>,
    /// Taken back since.
    undone: bool,
}

/// A look at the markers in class.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct TapeLook {
    /// The checkpoint or stage.
    target: String,
    /// Whether it was found there.
    there: bool,
}

pub(super) fn thinning(
    set: &MarkerSet,
    assessment: &MarkerAssessment,
    landed: u32,
    learner: Option<&Learner>,
) -> ThinningView {
    let next = next_to_go(set, assessment, landed);
    let wanting = match (next, learner) {
        (Err(NotYet::Nothing), _) => Some(ThinningWants::Marker),
        (_, None) => Some(ThinningWants::Child),
        (Err(NotYet::Landing), Some(_)) => Some(ThinningWants::Landing),
        (Err(NotYet::Ear), Some(_)) => Some(ThinningWants::Ear),
        (Ok(_), Some(_)) => None,
    };
    ThinningView {
        next: next.ok().filter(|_| wanting.is_none()),
        wanting,
        child: learner.map(|learner| learner.child.name.clone()),
        landed_looks: landed,
        wanted_looks: LANDED_LOOKS,
    }
}

/// The log and the looks in class, newest first.
pub(super) fn entries(log: &[Logged], looks: Vec<Look>) -> Vec<LogEntry> {
    let undone: Vec<TapeEventId> = log
        .iter()
        .filter_map(|logged| if let TapeWork::Undone { event } = logged.event.work { Some(event) } else { None })
        .collect();
    let logged =
        log.iter().filter(|logged| !matches!(logged.event.work, TapeWork::Undone { .. })).map(|logged| LogEntry {
            id: Some(logged.event.id),
            at: logged.event.at,
            by: logged.by.clone(),
            work: Some(logged.event.work.clone()),
            look: None,
            undone: undone.contains(&logged.event.id),
        });
    let seen = looks.into_iter().map(|look| LogEntry {
        id: None,
        at: look.observed_at,
        work: None,
        look: Some(TapeLook {
            there: look.level.is_none_or(|level| level >= i16::from(Level::Alone.number())),
            target: look.target,
        }),
        by: look.by,
        undone: false,
    });
    let mut entries: Vec<LogEntry> = logged.chain(seen).collect();
    entries.sort_by_key(|entry| std::cmp::Reverse(entry.at));
    entries
}
