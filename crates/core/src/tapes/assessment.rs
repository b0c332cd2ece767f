//! What an instrument's log comes to under a class's set of markers: how far they are, what wants to be put right, and how
//! each marker stands.

use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};

use crate::tapes::ear_checks::ear_checks;
use crate::tapes::finger::{Finger, Spot};
use crate::tapes::layout::{bridge_shift, cents_off, distance_mm, stops_at_mm};
use crate::tapes::log::Heard;
use crate::tapes::marker_set::MarkerSet;
use crate::tapes::record::{Presence, TapeRecord};
use crate::tapes::settings::Verdict;
use crate::tapes::status::{TapeState, TapeTrouble};

/// How one marker stands under a class's set.
#[serde_with::skip_serializing_none]
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct SpotStatus {
    /// Which.
    pub spot: Spot,
    /// Whether the class's set has it.
    pub wanted: bool,
    /// Whether it is there.
    pub presence: Presence,
    /// How far off it is as far as is known; positive = sharp.
    pub cents: Option<f64>,
    /// What was heard or measured comes to; `None` where nothing was since it was laid.
    pub verdict: Option<Verdict>,
    /// Whether it is proved by ear, and nothing happened since that would put it in doubt.
    pub proved: bool,
}

/// What an instrument's log comes to under a class's set of markers.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct MarkerAssessment {
    /// The furthest state reached.
    pub state: TapeState,
    /// What wants to be put right, and since when.
    pub trouble: Option<(TapeTrouble, DateTime<Utc>)>,
    /// Since when markers want to be heard again at once.
    pub doubted_at: Option<DateTime<Utc>>,
    /// When something good was last found or done.
    pub good_at: Option<DateTime<Utc>>,
    /// The last entry of any kind.
    pub looked_at: Option<DateTime<Utc>>,
    /// Every marker that is wanted or was ever laid, in the set's order.
    pub spots: Vec<SpotStatus>,
}

impl MarkerAssessment {
    /// The log's record under a class's set; `length_mm` is the instrument's own measured length.
    #[must_use]
    pub fn of(record: &TapeRecord, set: &MarkerSet, length_mm: Option<f64>) -> Self {
        let also = record.spots.keys().copied().filter(|spot| !set.spots.contains(spot));
        let spots: Vec<SpotStatus> =
            set.spots.iter().copied().chain(also).map(|spot| assess(record, set, length_mm, spot)).collect();
        let wanted = || spots.iter().filter(|status| status.wanted && status.spot.sounds());
        let state = furthest(record, set, length_mm, &spots);
        let since = |spot: Spot| record.spots.get(&spot).map(|known| known.since);
        // A lost thumb pad is stuck on again at leisure: no note is wrong without it.
        let lost = spots
            .iter()
            .filter(|status| status.spot.sounds() && matches!(status.presence, Presence::Loose | Presence::Missing));
        let lost_at = lost.filter_map(|status| since(status.spot)).max();
        let off =
            spots.iter().filter(|status| status.presence == Presence::On && status.verdict == Some(Verdict::Move));
        let off_at = off.filter_map(|status| record.spots.get(&status.spot)?.off_since(record.doubted_at)).max();
        let trouble = lost_at.map(|at| (TapeTrouble::LooseOrMissing, at));
        let trouble = trouble.or_else(|| off_at.map(|at| (TapeTrouble::Drifted, at)));
        let unproved = || wanted().filter(|status| status.presence == Presence::On && !status.proved);
        let laid_again = unproved().filter_map(|status| since(status.spot)).max();
        let doubted = record.doubted_at.filter(|at| record.held_at.is_none_or(|held| held < *at));
        let doubted = doubted.filter(|_| unproved().count() > 0);
        let doubted_at = if state >= TapeState::Heard { doubted.or(laid_again) } else { None };
        Self { state, trouble, doubted_at, good_at: record.good_at, looked_at: record.looked_at, spots }
    }

    /// Whether the log or the instrument says anything at all.
    #[must_use]
    pub fn says_something(&self) -> bool {
        self.looked_at.is_some() || self.state != TapeState::NotMeasured
    }
}

fn furthest(record: &TapeRecord, set: &MarkerSet, length_mm: Option<f64>, spots: &[SpotStatus]) -> TapeState {
    // A pad for the thumb helps; what a finger sounds does not wait for it.
    let wanted = || spots.iter().filter(|status| status.wanted && status.spot.sounds());
    let taken = spots.iter().filter(|status| status.presence == Presence::Taken && status.spot.sounds()).count();
    // One that comes off or is gone was not taken away.
    let rest =
        |status: &&SpotStatus| status.spot.sounds() && !matches!(status.presence, Presence::Never | Presence::Taken);
    if taken > 0 {
        return if spots.iter().any(|status| rest(&status)) { TapeState::Thinning } else { TapeState::Bare };
    }
    let laid = wanted().count() > 0 && wanted().all(|status| status.presence != Presence::Never);
    let best = |status: &SpotStatus| record.spots.get(&status.spot).and_then(|known| known.best_cents);
    let heard = wanted().all(|status| best(status).is_some_and(|cents| cents <= set.true_cents(status.spot)));
    match (laid, heard, record.held_at) {
        (true, true, Some(_)) => TapeState::Holding,
        (true, true, None) => TapeState::Heard,
        (true, false, _) => TapeState::Placed,
        (false, ..) if length_mm.is_some() => TapeState::ReadyToPlace,
        (false, ..) => TapeState::NotMeasured,
    }
}

fn assess(record: &TapeRecord, set: &MarkerSet, length_mm: Option<f64>, spot: Spot) -> SpotStatus {
    let wanted = set.spots.contains(&spot);
    let presence = record.presence(spot);
    let mut status = SpotStatus { spot, wanted, presence, cents: None, verdict: None, proved: false };
    let (Spot::Finger(finger), Some(known)) = (spot, record.spots.get(&spot)) else { return status };
    // A ruler's word after an ear's counts, and the other way round.
    let by_ruler = known.edge_at > known.heard_at;
    if by_ruler {
        status.cents = known.edge_mm.zip(length_mm).and_then(|(edge, length)| by_edge(set, length, finger, edge));
        status.verdict = status.cents.map(|cents| set.settings.tolerance.verdict(cents));
        status.proved = false;
    } else {
        let shift = shifted(set, length_mm, finger, known.bridge_moved_mm);
        let allowed = set.allowed_cents(spot);
        (status.cents, status.verdict) = match known.heard {
            Some(Heard::High | Heard::Low) => (None, Some(Verdict::Move)),
            Some(Heard::True) => (Some(shift), Some(set.settings.tolerance.verdict(shift))),
            Some(Heard::Cents(cents)) => {
                let now = cents + shift;
                let beyond = now.signum() * (now.abs() - allowed).max(0.0);
                (Some(now), Some(set.settings.tolerance.verdict(beyond)))
            }
            None => (None, None),
        };
        let doubted = record.doubted_at.is_some_and(|doubt| known.heard_at.is_none_or(|heard| heard < doubt));
        status.proved = status.verdict == Some(Verdict::True) && !doubted;
    }
    status
}

fn by_edge(set: &MarkerSet, length_mm: f64, finger: Finger, edge: f64) -> Option<f64> {
    let line = distance_mm(length_mm, finger.semitones(set.instrument)?, set.settings.temperament);
    let at = stops_at_mm(&set.settings, edge);
    (at > 0.0 && at < length_mm).then(|| cents_off(length_mm, line, at))
}

/// How far off a marker that was true sounds after the bridge moved.
fn shifted(set: &MarkerSet, length_mm: Option<f64>, finger: Finger, moved_mm: f64) -> f64 {
    let Some(length) = length_mm.filter(|_| moved_mm != 0.0) else { return 0.0 };
    let shift = bridge_shift(set.instrument, length - moved_mm, moved_mm, &set.settings, &[finger]);
    shift.ok().and_then(|shift| shift.first().map(|shift| shift.cents)).unwrap_or_default()
}

impl MarkerSet {
    /// Cents allowed on top at a spot: its nearest comparison is far, or against strings in pure fifths.
    #[must_use]
    pub fn allowed_cents(&self, spot: Spot) -> f64 {
        let Spot::Finger(finger) = spot else { return 0.0 };
        let semitones = finger.semitones(self.instrument);
        let nearest = semitones.and_then(|semitones| ear_checks(&self.facts, semitones).into_iter().next());
        nearest.map_or(0.0, |check| check.allows_cents(self.settings.temperament))
    }

    fn true_cents(&self, spot: Spot) -> f64 {
        self.settings.tolerance.true_cents + self.allowed_cents(spot)
    }
}
