//! How a round stands, from everything that happened in it.

use std::collections::{BTreeMap, BTreeSet};

use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use serde_with::skip_serializing_none;
use uuid::Uuid;

use crate::craft::strand::Strand;
use crate::round::detail::ScanKey;
use crate::round::event::{RoundEvent, RoundEventKind, RoundStop};
use crate::{ChildId, RoundId};

/// A planned visit, and whether it still waits for somebody.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct StopState {
    /// Whom.
    pub child: ChildId,
    /// What is to be looked at there.
    pub checks: Vec<String>,
    /// Neither visited nor passed over, and the child is here.
    pub waits: bool,
}

/// A visit that was made.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct VisitMade {
    /// By which device.
    pub device: String,
    /// The levels that stood there before, by checkpoint.
    pub before: BTreeMap<String, u8>,
}

/// How a round stands.
#[skip_serializing_none]
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct RoundState {
    /// Which round.
    pub id: RoundId,
    /// When it was begun.
    pub started_at: DateTime<Utc>,
    /// For how many minutes.
    pub minutes: u32,
    /// A row or a section; absent: the whole class.
    pub part: Option<String>,
    /// One strand; absent: all.
    pub strand: Option<Strand>,
    /// Looks from afar that were agreed to.
    pub scans: Vec<ScanKey>,
    /// In walking order.
    pub stops: Vec<StopState>,
    /// The first visit of each child: it tells what stood there before.
    pub visited: BTreeMap<ChildId, VisitMade>,
    /// Passed over.
    pub skipped: BTreeSet<ChildId>,
    /// Not here today.
    pub absent: BTreeSet<ChildId>,
    /// Whose device goes to whom.
    pub taken_by: BTreeMap<ChildId, String>,
    /// The devices that walk.
    pub walkers: BTreeSet<String>,
    /// Looks from afar that were done.
    pub scanned: Vec<ScanKey>,
    /// When it ended.
    pub ended_at: Option<DateTime<Utc>>,
}

impl RoundState {
    /// The round begun last, whatever order its events came in and however often; `None` where none was begun.
    #[must_use]
    pub fn of(events: &[RoundEvent]) -> Option<Self> {
        let each_once: BTreeMap<Uuid, &RoundEvent> = events.iter().map(|event| (event.id, event)).collect();
        let mut in_order: Vec<&RoundEvent> = each_once.into_values().collect();
        in_order.sort_by_key(|event| (event.at, event.id));
        let start = in_order.iter().rfind(|event| event.kind == RoundEventKind::Start)?;
        let mut state = Self {
            id: start.round,
            started_at: start.at,
            minutes: 0,
            part: None,
            strand: None,
            scans: Vec::new(),
            stops: Vec::new(),
            visited: BTreeMap::new(),
            skipped: BTreeSet::new(),
            absent: BTreeSet::new(),
            taken_by: BTreeMap::new(),
            walkers: BTreeSet::new(),
            scanned: Vec::new(),
            ended_at: None,
        };
        for event in in_order.iter().filter(|event| event.round == start.round) {
            state.apply(event);
        }
        let Self { visited, skipped, absent, .. } = &state;
        let gone = |child: &ChildId| visited.contains_key(child) || skipped.contains(child) || absent.contains(child);
        let waiting: Vec<bool> = state.stops.iter().map(|stop| !gone(&stop.child)).collect();
        for (stop, waits) in state.stops.iter_mut().zip(waiting) {
            stop.waits = waits;
        }
        Some(state)
    }

    fn apply(&mut self, event: &RoundEvent) {
        self.walkers.insert(event.device.clone());
        let children = || event.children.iter().map(|stop| stop.child);
        match event.kind {
            RoundEventKind::Start | RoundEventKind::Plan => {
                let stop = |stop: &RoundStop| StopState { child: stop.child, checks: stop.checks.clone(), waits: true };
                self.stops = event.children.iter().map(stop).collect();
                let detail = event.detail.clone();
                self.minutes = detail.minutes.unwrap_or(self.minutes);
                self.part = detail.part.or(self.part.take());
                self.strand = detail.strand.or(self.strand);
                if let Some(scans) = detail.scans {
                    self.scans = scans;
                }
            }
            RoundEventKind::Scan => {
                let key = event.detail.target.clone().zip(event.detail.part.clone());
                self.scanned.extend(key.map(|(target, part)| ScanKey { target, part }));
            }
            RoundEventKind::End => self.ended_at = Some(event.at),
            RoundEventKind::Absent => self.absent.extend(children()),
            RoundEventKind::Present => self.absent.retain(|child| children().all(|here| here != *child)),
            RoundEventKind::Skipped => self.skipped.extend(children()),
            RoundEventKind::Take => {
                for child in children() {
                    self.taken_by.insert(child, event.device.clone());
                    self.skipped.remove(&child);
                }
            }
            RoundEventKind::Visited => {
                let before = event.detail.before.clone().unwrap_or_default();
                for child in children() {
                    let made = || VisitMade { device: event.device.clone(), before: before.clone() };
                    self.visited.entry(child).or_insert_with(made);
                }
            }
        }
    }

    /// The stops that wait for a device: those that it has taken, then those that nobody has. Who took the second half
    /// begins there, and not at a child whom the other device comes to next.
    #[must_use]
    pub fn todo(&self, device: &str) -> Vec<StopState> {
        let waiting = |who: Option<&str>| {
            let taken_by = |stop: &&StopState| self.taken_by.get(&stop.child).map(String::as_str) == who;
            self.stops.iter().filter(|stop| stop.waits).filter(taken_by).cloned().collect::<Vec<_>>()
        };
        [waiting(Some(device)), waiting(None)].concat()
    }
}
