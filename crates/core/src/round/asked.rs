//! What the planner is asked in a round: the class as a device took it along, less what is settled, absent or done; and what
//! becomes of a plan by hand.

use std::collections::BTreeSet;

use serde::{Deserialize, Serialize};

use crate::ChildId;
use crate::craft::strand::Strand;
use crate::round::checks::PINNED;
use crate::round::detail::ScanKey;
use crate::round::event::RoundStop;
use crate::round::question::{CheckToPlan, ChildToPlan, MAX_CHECKS_OF_CHILD, MAX_ROUND_SECONDS, RoundQuestion};
use crate::round::scans::{SCAN_EACH, SCAN_SECONDS};

/// What is looked at in a child that was added by hand: the first so many of its checks.
const CHECKS_BY_HAND: usize = 2;

/// A class as a round reads it: what of a round's kit the planner needs.
#[derive(Clone, Debug, PartialEq, Eq, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct ClassToWalk {
    /// To walk to the next child and greet it.
    pub visit_seconds: u32,
    /// At most so many at one visit.
    pub max_checks_per_child: usize,
    /// Unseen for so many meetings or more: must be seen.
    pub must_see_after_meetings: u32,
    /// Rows and sections.
    pub parts: Vec<PartToWalk>,
    /// In walking order.
    pub children: Vec<ChildToWalk>,
    /// What can be settled from afar.
    pub scans: Vec<KnownScan>,
}

/// A row or a section.
#[derive(Clone, Debug, PartialEq, Eq, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PartToWalk {
    /// `row-2`, `cello`.
    pub key: String,
    /// Who is in it.
    pub children: Vec<ChildId>,
}

/// A child that could be visited.
#[derive(Clone, Debug, PartialEq, Eq, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct ChildToWalk {
    /// Whom.
    pub id: ChildId,
    /// Its place along the walk.
    pub seat_order: u32,
    /// Meetings since somebody was last at its chair.
    pub meetings_unseen: u32,
    /// What a visit is worth beside its checks.
    pub visit_points: u32,
    /// In the child's own order.
    pub checks: Vec<CheckToWalk>,
    /// What is neither in work nor due, for a look close up.
    pub close_up: Vec<CheckToWalk>,
}

/// Something that could be looked at.
#[derive(Clone, Debug, PartialEq, Eq, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CheckToWalk {
    /// A checkpoint or a stage.
    pub target: String,
    /// Of which strand.
    pub strand: Strand,
    /// How long it takes.
    pub seconds: u32,
    /// What it is worth, without pins.
    pub points: u32,
}

/// A look from afar that is known to settle something, or with an empty part one that could be done anywhere.
#[derive(Clone, Debug, PartialEq, Eq, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct KnownScan {
    /// A checkpoint or a stage.
    pub target: String,
    /// `row-2`, `cello`.
    pub part: String,
    /// Of which strand.
    pub strand: Strand,
    /// Whose look it settles.
    pub resolves: Vec<ChildId>,
}

/// Something pinned: it must not be missed.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Pin {
    /// Whom.
    pub child: ChildId,
    /// One look; absent: everything of the child.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub target: Option<String>,
}

/// What a plan is asked for.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct Asked {
    /// For how long, with the looks from afar.
    pub seconds: u32,
    /// A row or a section; absent: the whole class.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub part: Option<String>,
    /// One strand; absent: all.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub strand: Option<Strand>,
    /// Looks from afar that are done first.
    #[serde(default)]
    pub scans: Vec<ScanKey>,
    /// Not here today.
    #[serde(default)]
    pub absent: BTreeSet<ChildId>,
    /// What must not be missed.
    #[serde(default)]
    pub pins: BTreeSet<Pin>,
    /// Visited already, or looked after otherwise.
    #[serde(default)]
    pub done: BTreeSet<ChildId>,
}

/// A look from afar with what it takes and saves with those who are here.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct ScanWorth {
    /// A checkpoint or a stage.
    pub target: String,
    /// Which row or section.
    pub part: String,
    /// How long it takes.
    pub seconds: u32,
    /// Seconds of looks that it saves, less its own; below 0 where it takes longer than they would.
    pub saves: i64,
}

impl ClassToWalk {
    /// Those of a row or section (`None`: of the class) who are here.
    #[must_use]
    pub fn present(&self, part: Option<&str>, absent: &BTreeSet<ChildId>) -> Vec<ChildId> {
        let all = match part {
            None => self.children.iter().map(|child| child.id).collect(),
            Some(key) => {
                let part = self.parts.iter().find(|part| part.key == key);
                part.map(|part| part.children.clone()).unwrap_or_default()
            }
        };
        all.into_iter().filter(|child| !absent.contains(child)).collect()
    }

    /// Seconds that a look from afar at a row or section takes with those who are here.
    #[must_use]
    pub fn scan_seconds(&self, part: &str, absent: &BTreeSet<ChildId>) -> u32 {
        let here = u32::try_from(self.present(Some(part), absent).len()).unwrap_or(u32::MAX);
        SCAN_SECONDS.saturating_add(SCAN_EACH.saturating_mul(here))
    }

    /// What each known look from afar takes and saves with those who are here.
    #[must_use]
    pub fn scans_worth(&self, absent: &BTreeSet<ChildId>) -> Vec<ScanWorth> {
        let worth = |scan: &KnownScan| {
            let here = scan.resolves.iter().filter(|child| !absent.contains(child));
            let saved = here.filter_map(|child| self.look(*child, &scan.target)).map(|look| i64::from(look.seconds));
            let seconds = self.scan_seconds(&scan.part, absent);
            let saves = saved.sum::<i64>() - i64::from(seconds);
            ScanWorth { target: scan.target.clone(), part: scan.part.clone(), seconds, saves }
        };
        self.scans.iter().map(worth).collect()
    }

    fn child(&self, id: ChildId) -> Option<&ChildToWalk> {
        self.children.iter().find(|child| child.id == id)
    }

    /// What can be looked at in a child: what is in work or due, and what can be seen close up.
    fn look(&self, child: ChildId, target: &str) -> Option<&CheckToWalk> {
        let child = self.child(child)?;
        child.checks.iter().chain(&child.close_up).find(|check| check.target == target)
    }

    /// Seconds that a visit was planned to take.
    #[must_use]
    pub fn stop_seconds(&self, stop: &RoundStop) -> u32 {
        let looks = stop.checks.iter().filter_map(|target| self.look(stop.child, target));
        looks.fold(self.visit_seconds, |sum, look| sum.saturating_add(look.seconds))
    }

    /// What the planner is asked.
    #[must_use]
    pub fn question(&self, asked: &Asked) -> RoundQuestion {
        let in_part: BTreeSet<ChildId> = self.present(asked.part.as_deref(), &BTreeSet::new()).into_iter().collect();
        let settled: BTreeSet<(ChildId, &str)> = self
            .scans
            .iter()
            .filter(|scan| asked.scans.iter().any(|one| (&one.target, &one.part) == (&scan.target, &scan.part)))
            .flat_map(|scan| scan.resolves.iter().map(|child| (*child, scan.target.as_str())))
            .collect();
        let scanning = asked
            .scans
            .iter()
            .fold(0, |sum: u32, scan| sum.saturating_add(self.scan_seconds(&scan.part, &asked.absent)));
        let children =
            self.children.iter().filter(|child| in_part.contains(&child.id) && !asked.done.contains(&child.id));
        RoundQuestion {
            seconds_available: asked.seconds.saturating_sub(scanning).min(MAX_ROUND_SECONDS),
            visit_seconds: self.visit_seconds,
            max_checks_per_child: self.max_checks_per_child,
            must_see_after_meetings: self.must_see_after_meetings,
            children: children.map(|child| child.to_plan(asked, &settled)).collect(),
        }
    }

    /// The stops with one who was added by hand in its place along the walk.
    #[must_use]
    pub fn with_stop(&self, mut stops: Vec<RoundStop>, child: ChildId) -> Vec<RoundStop> {
        let Some(found) = self.child(child).filter(|_| stops.iter().all(|stop| stop.child != child)) else {
            return stops;
        };
        let checks = found.checks.iter().take(CHECKS_BY_HAND).map(|check| check.target.clone());
        let stop = RoundStop { child, checks: checks.collect() };
        let after = |stop: &RoundStop| self.child(stop.child).is_some_and(|other| other.seat_order > found.seat_order);
        let place = stops.iter().position(after).unwrap_or(stops.len());
        stops.insert(place, stop);
        stops
    }

    /// The stops with those who were tapped in a look from afar: they get that look close up, in walking order.
    #[must_use]
    pub fn with_close_up(&self, mut stops: Vec<RoundStop>, tapped: &[ChildId], target: &str) -> Vec<RoundStop> {
        for stop in stops.iter_mut().filter(|stop| tapped.contains(&stop.child)) {
            if !stop.checks.iter().any(|check| check == target) {
                stop.checks.insert(0, target.to_owned());
            }
        }
        for child in tapped {
            if stops.iter().all(|stop| stop.child != *child) {
                stops.push(RoundStop { child: *child, checks: vec![target.to_owned()] });
            }
        }
        stops.sort_by_key(|stop| self.child(stop.child).map_or(0, |child| child.seat_order));
        stops
    }
}

impl ChildToWalk {
    fn to_plan(&self, asked: &Asked, settled: &BTreeSet<(ChildId, &str)>) -> ChildToPlan {
        let pinned =
            |target: Option<&str>| asked.pins.iter().any(|pin| pin.child == self.id && pin.target.as_deref() == target);
        let all = pinned(None);
        let counts = |check: &&CheckToWalk| {
            let settled = settled.contains(&(self.id, check.target.as_str()));
            !settled && asked.strand.is_none_or(|strand| strand == check.strand)
        };
        // What is pinned moves to the front.
        let (first, rest): (Vec<&CheckToWalk>, Vec<_>) =
            self.checks.iter().filter(counts).partition(|check| pinned(Some(&check.target)));
        let check = |check: &CheckToWalk| CheckToPlan {
            checkpoint: check.target.clone(),
            seconds: check.seconds,
            points: check.points.saturating_add(if all || pinned(Some(&check.target)) { PINNED } else { 0 }),
        };
        ChildToPlan {
            id: self.id.to_string(),
            seat_order: self.seat_order,
            absent: asked.absent.contains(&self.id),
            meetings_unseen: self.meetings_unseen,
            visit_points: self.visit_points,
            checks: first.into_iter().chain(rest).take(MAX_CHECKS_OF_CHILD).map(check).collect(),
        }
    }
}
