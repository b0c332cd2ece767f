//! A child as it is now: what the server answered last, with observations that are still on their way.

use std::collections::{BTreeMap, BTreeSet};
use std::sync::Arc;

use chrono::{DateTime, Utc};

use crate::craft::checklist::Checklist;
use crate::craft::id::{CheckpointId, Target};
use crate::craft::instrument::Instrument;
use crate::craft::strand::Strand;
use crate::progress::context::ChildContext;
use crate::progress::ladder::{Ladder, StageState};
use crate::progress::new_observation::NewObservation;
use crate::progress::next::NextCheck;
use crate::progress::observation::{Observation, Observed, Says};
use crate::progress::outlook::Outlook;
use crate::progress::page::basis::{CLASS_CHECKLIST, ChildBasis, ClassRules};
use crate::progress::page::room_child::RoomChild;
use crate::progress::pupil::Pupil;
use crate::progress::standing::{Standing, standings_so_far};
use crate::progress::visits::Unseen;
use crate::{AccountId, ObservationId};

/// A child with everything that follows for it.
#[derive(Clone, Debug)]
pub struct ChildNow {
    /// The checklist it is read by.
    pub checklist: Arc<Checklist>,
    /// What counts for it besides its observations.
    pub context: ChildContext,
    /// How it stands.
    pub standings: BTreeMap<CheckpointId, Standing>,
    /// What follows from that.
    pub ladder: Ladder,
    /// How long nobody was at its chair.
    pub unseen: Unseen,
    /// Those on their way that count: of this child, what the server would refuse left out, the earliest first.
    pub on_their_way: Vec<Observation>,
}

/// When a page is drawn.
#[derive(Clone, Copy, Debug)]
pub struct Moment {
    /// The number of the present meeting.
    pub meeting: u32,
    /// What time it is.
    pub now: DateTime<Utc>,
}

/// Whose account observed what is on its way: no rule asks.
const SOMEBODY: AccountId = AccountId::nobody();

impl ChildNow {
    /// The child with these observations on their way. `None` where the basis does not say enough: something on its way was
    /// made before the observations that are there, or takes one back that is not among them; or the rules do not hold the
    /// child's checklist.
    #[must_use]
    pub fn of(rules: &ClassRules, basis: &ChildBasis, pending: &[NewObservation], at: Moment) -> Option<Self> {
        let shared = rules.checklists.get(CLASS_CHECKLIST)?;
        let checklist = Arc::clone(rules.checklists.get(&basis.checklist)?);
        let mut known: Vec<Observation> =
            basis.observations.iter().cloned().filter_map(|one| one.taken_in(SOMEBODY)).collect();
        let there: BTreeSet<ObservationId> = known.iter().map(|one| one.id).collect();
        let mut on_their_way: Vec<Observation> = pending
            .iter()
            .filter(|one| one.child == basis.who.id && !there.contains(&one.id))
            .filter_map(|one| one.clone().check(shared, SOMEBODY, at.now).ok())
            .collect();
        on_their_way.sort_by_key(|one| (one.observed_at, one.id));
        on_their_way.dedup_by_key(|one| one.id);
        let refused: BTreeSet<ObservationId> =
            on_their_way.iter().filter(|one| basis.refuses(one, &on_their_way)).map(|one| one.id).collect();
        on_their_way.retain(|one| !refused.contains(&one.id));
        if !basis.says_enough_for(&on_their_way, &there) {
            return None;
        }
        let pain = basis.pain_with(&on_their_way);
        known.extend(on_their_way.iter().filter(|one| basis.counts(one, &on_their_way)).cloned());
        let so_far = standings_so_far(shared, &basis.before, &known, &rules.calendar, &rules.rhythm);
        let standings: BTreeMap<CheckpointId, Standing> =
            so_far.into_iter().map(|(id, so_far)| (id, so_far.standing)).collect();
        let context = basis.context(&pain);
        let outlook =
            Outlook { checklist: &checklist, calendar: &rules.calendar, rhythm: &rules.rhythm, now: at.meeting };
        let ladder = outlook.ladder(&basis.who.playing, &context, &standings);
        let unseen = Unseen::at(at.meeting, &rules.calendar, basis.who.joined_on, &standings);
        Some(Self { checklist, context, standings, ladder, unseen, on_their_way })
    }

    /// It as the room shows it.
    #[must_use]
    pub fn room_child(&self, basis: &ChildBasis) -> RoomChild {
        RoomChild::new(basis.who.clone(), self.unseen, &self.ladder)
    }

    /// The checkpoint to look at first: the first of the next checks that is one, else the first in a stage that is not shut.
    #[must_use]
    pub fn first_look(&self, next: &[NextCheck], instrument: Instrument) -> Option<String> {
        let checkpoint = next.iter().find_map(|check| match &check.target {
            Target::Checkpoint(id) if !id.as_str().starts_with(Strand::Tape.key()) => Some(id),
            Target::Checkpoint(_) | Target::Stage(_) => None,
        });
        let stages = self.checklist.stages().iter().zip(&self.ladder.stages);
        let mut there = stages
            .filter(|(_, view)| !matches!(view.state, StageState::Shut(_)))
            .flat_map(|(stage, _)| self.checklist.checkpoints_of(&stage.id))
            .filter(|checkpoint| checkpoint.wording.contains_key(&instrument))
            .map(|checkpoint| &checkpoint.id);
        checkpoint.or_else(|| there.next()).map(ToString::to_string)
    }

    /// It as the rules read it.
    #[must_use]
    pub fn pupil<'a>(&'a self, rules: &'a ClassRules, basis: &ChildBasis) -> Pupil<'a> {
        Pupil {
            checklist: &self.checklist,
            causes: &rules.causes,
            instrument: basis.who.playing.now,
            context: &self.context,
            standings: &self.standings,
            ladder: &self.ladder,
        }
    }
}

impl ChildBasis {
    /// Whether it is an undo of something else than it says, or of another undo: the server takes neither.
    fn refuses(&self, one: &Observation, on_their_way: &[Observation]) -> bool {
        let Observed::Retracts(id) = one.seen else { return false };
        let stored = self.observations.iter().find(|other| other.id == id);
        let stored = stored.map(|other| (other.target.as_str(), other.retracts.is_some()));
        let new = || {
            let other = on_their_way.iter().find(|other| other.id == id)?;
            Some((other.target.id(), matches!(other.seen, Observed::Retracts(_))))
        };
        stored.or_else(new).is_some_and(|(target, is_undo)| is_undo || target != one.target.id())
    }

    fn says_enough_for(&self, on_their_way: &[Observation], there: &BTreeSet<ObservationId>) -> bool {
        let Some(since) = self.since else { return true };
        let named = |id: &ObservationId| there.contains(id) || on_their_way.iter().any(|one| one.id == *id);
        on_their_way.iter().all(|one| match &one.seen {
            Observed::Retracts(id) => named(id),
            Observed::Level { .. } | Observed::Holds { .. } => one.observed_at >= since,
        })
    }

    /// Whether something on its way stands for this child: of the tapes only what was seen on the instrument it has now. An
    /// undo goes with what it takes back.
    fn counts(&self, one: &Observation, on_their_way: &[Observation]) -> bool {
        if !one.target.id().starts_with(Strand::Tape.key()) {
            return true;
        }
        let undone = match one.seen {
            Observed::Retracts(id) => {
                let known = self.observations.iter().find(|other| other.id == id).map(|other| other.observed_at);
                known.or_else(|| on_their_way.iter().find(|other| other.id == id).map(|other| other.observed_at))
            }
            Observed::Level { .. } | Observed::Holds { .. } => None,
        };
        self.has_since.is_none_or(|since| undone.unwrap_or(one.observed_at) >= since)
    }

    /// The pains nobody has answered, with those on their way.
    #[must_use]
    pub fn pain_with(&self, on_their_way: &[Observation]) -> BTreeMap<ObservationId, Target> {
        let hurts = on_their_way.iter().filter(|one| one.says == Some(Says::Hurts));
        let mut pain = self.pain.clone();
        pain.extend(hurts.map(|one| (one.id, one.target.clone())));
        for undo in on_their_way {
            if let Observed::Retracts(id) = undo.seen
                && pain.get(&id) == Some(&undo.target)
            {
                pain.remove(&id);
            }
        }
        // What was taken back before it came: its undo is there already.
        pain.retain(|id, target| {
            let undoes = |one: &NewObservation| one.retracts == Some(*id) && one.target == target.id();
            !self.observations.iter().any(undoes)
        });
        pain
    }
}
