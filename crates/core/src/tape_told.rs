//! What an instrument's log comes to under a class's set of marks: how far they are, what wants to be put right, and how
//! each mark stands.

use chrono::{DateTime, Utc};

use crate::ear::ear_checks;
use crate::finger::{Finger, Spot};
use crate::fingerboard::{bridge_shift, cents_off, distance_mm, stops_at_mm};
use crate::laying::Verdict;
use crate::tape::{TapeState, TapeTrouble};
use crate::tape_log::{Heard, Presence, TapeRecord};
use crate::tape_set::TapeSet;

/// How one mark stands under a class's set.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct SpotTold {
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

/// What an instrument's log comes to under a class's set of marks.
#[derive(Clone, Debug, PartialEq)]
pub struct Told {
    /// The furthest state reached.
    pub state: TapeState,
    /// What wants to be put right, and since when.
    pub trouble: Option<(TapeTrouble, DateTime<Utc>)>,
    /// Since when marks want to be heard again at once.
    pub doubted_at: Option<DateTime<Utc>>,
    /// When something good was last found or done.
    pub good_at: Option<DateTime<Utc>>,
    /// The last entry of any kind.
    pub looked_at: Option<DateTime<Utc>>,
    /// Every mark that is wanted or was ever laid, in the set's order.
    pub spots: Vec<SpotTold>,
}

impl Told {
    /// The log's record under a class's set; `length_mm` is the instrument's own measured length.
    #[must_use]
    pub fn of(record: &TapeRecord, set: &TapeSet, length_mm: Option<f64>) -> Self {
        let also = record.spots.keys().copied().filter(|spot| !set.spots.contains(spot));
        let spots: Vec<SpotTold> =
            set.spots.iter().copied().chain(also).map(|spot| told_of(record, set, length_mm, spot)).collect();
        let wanted = || spots.iter().filter(|told| told.wanted && told.spot != Spot::FingerLine);
        let state = furthest(record, set, length_mm, &spots);
        let since = |spot: Spot| record.spots.get(&spot).map(|known| known.since);
        let lost = spots.iter().filter(|told| matches!(told.presence, Presence::Loose | Presence::Missing));
        let lost_at = lost.filter_map(|told| since(told.spot)).max();
        let off = spots.iter().filter(|told| told.presence == Presence::On && told.verdict == Some(Verdict::Move));
        let off_at = off.filter_map(|told| record.spots.get(&told.spot)?.off_since(record.doubted_at)).max();
        let trouble = lost_at.map(|at| (TapeTrouble::LooseOrMissing, at));
        let trouble = trouble.or_else(|| off_at.map(|at| (TapeTrouble::Drifted, at)));
        let unproved = || wanted().filter(|told| told.presence == Presence::On && told.spot.sounds() && !told.proved);
        let laid_again = unproved().filter_map(|told| since(told.spot)).max();
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

fn furthest(record: &TapeRecord, set: &TapeSet, length_mm: Option<f64>, spots: &[SpotTold]) -> TapeState {
    let wanted = || spots.iter().filter(|told| told.wanted && told.spot != Spot::FingerLine);
    let fingers = || wanted().filter(|told| told.spot.sounds());
    let taken = spots.iter().filter(|told| told.presence == Presence::Taken && told.spot.sounds()).count();
    // One that comes off or is gone was not taken away.
    let rest = |told: &&SpotTold| told.spot.sounds() && !matches!(told.presence, Presence::Never | Presence::Taken);
    if taken > 0 {
        return if spots.iter().any(|told| rest(&told)) { TapeState::Thinning } else { TapeState::Bare };
    }
    let laid = wanted().count() > 0 && wanted().all(|told| told.presence != Presence::Never);
    let best = |told: &SpotTold| record.spots.get(&told.spot).and_then(|known| known.best_cents);
    let heard = fingers().all(|told| best(told).is_some_and(|cents| cents <= set.true_cents(told.spot)));
    match (laid, heard, record.held_at) {
        (true, true, Some(_)) => TapeState::Holding,
        (true, true, None) => TapeState::Heard,
        (true, false, _) => TapeState::Placed,
        (false, ..) if length_mm.is_some() => TapeState::ReadyToPlace,
        (false, ..) => TapeState::NotMeasured,
    }
}

fn told_of(record: &TapeRecord, set: &TapeSet, length_mm: Option<f64>, spot: Spot) -> SpotTold {
    let wanted = set.spots.contains(&spot);
    let presence = record.presence(spot);
    let mut told = SpotTold { spot, wanted, presence, cents: None, verdict: None, proved: false };
    let (Spot::Finger(finger), Some(known)) = (spot, record.spots.get(&spot)) else { return told };
    // A ruler's word after an ear's counts, and the other way round.
    let by_ruler = known.edge_at > known.heard_at;
    if by_ruler {
        told.cents = known.edge_mm.zip(length_mm).and_then(|(edge, length)| by_edge(set, length, finger, edge));
        told.verdict = told.cents.map(|cents| set.laying.tolerance.verdict(cents));
        told.proved = false;
    } else {
        let shift = shifted(set, length_mm, finger, known.bridge_moved_mm);
        let allowed = set.allowed_cents(spot);
        (told.cents, told.verdict) = match known.heard {
            Some(Heard::High | Heard::Low) => (None, Some(Verdict::Move)),
            Some(Heard::True) => (Some(shift), Some(set.laying.tolerance.verdict(shift))),
            Some(Heard::Cents(cents)) => {
                let now = cents + shift;
                let beyond = now.signum() * (now.abs() - allowed).max(0.0);
                (Some(now), Some(set.laying.tolerance.verdict(beyond)))
            }
            None => (None, None),
        };
        let doubted = record.doubted_at.is_some_and(|doubt| known.heard_at.is_none_or(|heard| heard < doubt));
        told.proved = told.verdict == Some(Verdict::True) && !doubted;
    }
    told
}

fn by_edge(set: &TapeSet, length_mm: f64, finger: Finger, edge: f64) -> Option<f64> {
    let line = distance_mm(length_mm, finger.semitones(set.instrument)?, set.laying.temperament);
    let at = stops_at_mm(&set.laying, edge);
    (at > 0.0 && at < length_mm).then(|| cents_off(length_mm, line, at))
}

/// How far off a mark that was true sounds after the bridge moved.
fn shifted(set: &TapeSet, length_mm: Option<f64>, finger: Finger, moved_mm: f64) -> f64 {
    let Some(length) = length_mm.filter(|_| moved_mm != 0.0) else { return 0.0 };
    let shift = bridge_shift(set.instrument, length - moved_mm, moved_mm, &set.laying, &[finger]);
    shift.ok().and_then(|shift| shift.first().map(|shift| shift.cents)).unwrap_or_default()
}

impl TapeSet {
    /// Cents allowed on top at a spot: its nearest comparison is far, or against strings in pure fifths.
    #[must_use]
    pub fn allowed_cents(&self, spot: Spot) -> f64 {
        let Spot::Finger(finger) = spot else { return 0.0 };
        let semitones = finger.semitones(self.instrument);
        let nearest = semitones.and_then(|semitones| ear_checks(&self.facts, semitones).into_iter().next());
        nearest.map_or(0.0, |check| check.allows_cents(self.laying.temperament))
    }

    fn true_cents(&self, spot: Spot) -> f64 {
        self.laying.tolerance.true_cents + self.allowed_cents(spot)
    }
}
