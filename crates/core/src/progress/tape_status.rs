//! The tapes of one child: what the log of its instrument and looks in class say together.

use std::collections::BTreeMap;

use chrono::{DateTime, Utc};

use crate::craft::id::CheckpointId;
use crate::craft::level::Level;
use crate::craft::strand::Strand;
use crate::progress::context::ChildContext;
use crate::progress::outlook::Outlook;
use crate::progress::rhythm::Recheck;
use crate::progress::standing::Standing;
use crate::tapes::assessment::MarkerAssessment;
use crate::tapes::status::{TapeState, TapeTrouble};

/// The tapes of one child.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct TapeStatus {
    /// The furthest state reached; trouble never takes it back.
    pub state: TapeState,
    /// What wants to be put right first.
    pub trouble: Option<TapeTrouble>,
    /// When to look again; none before a set is on, or once it is off.
    pub recheck: Option<Recheck>,
}

/// The tape stage that a set in trouble still counts as: the markers are there, but not to be relied on.
const STAGE_IN_TROUBLE: u32 = 2;

impl TapeStatus {
    /// The tape stage that gates may count on, 0 for none.
    #[must_use]
    pub fn counts_as(self) -> u32 {
        match self.trouble {
            None => self.state.stage(),
            Some(TapeTrouble::Drifted | TapeTrouble::LooseOrMissing) => self.state.stage().min(STAGE_IN_TROUBLE),
            Some(TapeTrouble::WrongInstrument) => 0,
        }
    }

    /// The status that the log of the instrument and looks at the tape checkpoints come to together, at the outlook's meeting.
    ///
    /// A tape checkpoint is there (Alone or better) or it is not; one that was there and is not any more is trouble: a
    /// measure means another instrument, a laid set a lost marker, a heard or holding set a drift. Of log and looks the
    /// later word counts. An instrument that came in the place of another is the wrong one until somebody looked at it.
    #[must_use]
    pub fn of(outlook: &Outlook<'_>, standings: &BTreeMap<CheckpointId, Standing>, context: &ChildContext) -> Self {
        let stages = outlook.checklist.stages_of(Strand::Tape);
        let looks = stages
            .flat_map(|stage| outlook.checklist.checkpoints_of(&stage.id).map(move |one| (stage.number, one)))
            .filter_map(|(number, checkpoint)| Some((number, standings.get(&checkpoint.id)?)));
        Self::of_looks(outlook, looks.collect(), context)
    }

    /// [`Self::of`], from the looks at the tape checkpoints, each with the number of its stage.
    pub(super) fn of_looks(outlook: &Outlook<'_>, looks: Vec<(u32, &Standing)>, context: &ChildContext) -> Self {
        if outlook.checklist.is_bare() {
            return Self { state: TapeState::NoneByChoice, trouble: None, recheck: None };
        }
        let looks = Looks(looks);
        let assessment = context.tapes.as_ref();
        let looked_at = assessment.and_then(|assessment| assessment.looked_at).max(looks.last());
        let state =
            looks.furthest(assessment).max(assessment.map_or(TapeState::NotMeasured, |assessment| assessment.state));
        let other = context.swapped_at.filter(|since| looked_at.is_none_or(|looked_at| looked_at < *since));
        let trouble = other.map(|_| TapeTrouble::WrongInstrument).or_else(|| trouble(&looks, assessment));
        let interval = match state {
            TapeState::NotMeasured | TapeState::ReadyToPlace | TapeState::Bare | TapeState::NoneByChoice => None,
            TapeState::Placed | TapeState::Heard => Some(outlook.rhythm.tapes_first),
            TapeState::Holding | TapeState::Thinning => Some(outlook.rhythm.tapes_later),
        };
        let doubted =
            assessment.and_then(|assessment| assessment.doubted_at).filter(|doubt| looks.good_at() < Some(*doubt));
        let at_once = doubted.map_or(u32::MAX, |at| outlook.calendar.meeting_at(at));
        let recheck = interval.zip(looked_at).map(|(interval, looked_at)| {
            let regular = outlook.calendar.meeting_at(looked_at).saturating_add(interval);
            Recheck::at(outlook.now, regular.min(at_once))
        });
        Self { state, trouble, recheck }
    }
}

/// Looks at the tape checkpoints, each with the number of its stage.
struct Looks<'a>(Vec<(u32, &'a Standing)>);

impl Looks<'_> {
    fn last(&self) -> Option<DateTime<Utc>> {
        self.0.iter().map(|(_, look)| look.looked_at).max()
    }

    /// The last look that found a laid set as it should be.
    fn good_at(&self) -> Option<DateTime<Utc>> {
        let good = self.0.iter().filter(|(number, look)| *number >= 2 && look.level >= Level::Alone);
        good.map(|(_, look)| look.looked_at).max()
    }

    /// The furthest state that was ever seen. What was seen taken away counts only until the log says otherwise.
    fn furthest(&self, assessment: Option<&MarkerAssessment>) -> TapeState {
        let counts = |(number, look): &&(u32, &Standing)| {
            let later = assessment.and_then(|assessment| assessment.good_at).is_none_or(|good| good <= look.looked_at);
            look.peak >= Level::Alone && (*number < TapeState::Thinning.stage() || later)
        };
        let reached = self.0.iter().filter(counts).map(|(number, _)| *number).max();
        let state = TapeState::ORDER.into_iter().find(|state| Some(state.stage()) == reached);
        state.unwrap_or(TapeState::NotMeasured)
    }

    /// What was there and is not any more, and since when.
    fn trouble(&self) -> Option<(TapeTrouble, DateTime<Utc>)> {
        let gone = self.0.iter().find(|(_, look)| look.peak >= Level::Alone && look.level < Level::Alone);
        gone.and_then(|(number, look)| {
            let trouble = match number {
                1 => TapeTrouble::WrongInstrument,
                2 => TapeTrouble::LooseOrMissing,
                3 | 4 => TapeTrouble::Drifted,
                _ => return None,
            };
            Some((trouble, look.looked_at))
        })
    }
}

/// What wants to be put right: the log's word unless a later look found everything good, then the looks' unless the log
/// has something good later.
fn trouble(looks: &Looks<'_>, assessment: Option<&MarkerAssessment>) -> Option<TapeTrouble> {
    let logged = assessment.and_then(|assessment| assessment.trouble).filter(|(_, at)| looks.good_at() <= Some(*at));
    let seen = looks.trouble().filter(|(_, at)| assessment.and_then(|assessment| assessment.good_at) < Some(*at));
    logged.or(seen).map(|(trouble, _)| trouble)
}
