//! What comes next for a child: one list for its panel, the round, lessons and home. Whatever suggests something takes its
//! beginning.
//!
//! Pain; tapes in trouble; what is amiss and comes from nothing else that is, most effects first; then in turn what stands
//! and is due for a look, the latest first, and what is in work, the earliest stage first. Among what is amiss never a cause
//! beside its own effect, and never two of one origin.

use std::cmp::Reverse;
use std::collections::{BTreeMap, BTreeSet};

use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};

use crate::craft::approach::{Approach, Choices, ORDER};
use crate::craft::cause_graph::Node;
use crate::craft::checklist::Stage;
use crate::craft::id::{CheckpointId, SlipId, StageId, Target};
use crate::craft::level::Level;
use crate::craft::strand::Strand;
use crate::progress::dependence::working_order;
use crate::progress::ladder::StageState;
use crate::progress::next_list::{List, node};
use crate::progress::pupil::Pupil;
use crate::progress::rhythm::{PASSES, REACHES, Recheck};
use crate::progress::standing::Standing;
use crate::tapes::status::{TapeState, TapeTrouble};

/// Never more than so many are suggested at once.
pub const MAX_NEXT: usize = 3;
/// What is due within so many meetings is taken along where somebody is anyway.
pub const SOON: u32 = 1;
/// Seconds of a look at the tapes: still there, still true?
pub const TAPE_SECONDS: u32 = 10;

/// Which hand comes first in what is suggested.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub enum Order {
    /// The strand whose open stage is lowest.
    SideBySide,
    /// The bow hand.
    BowFirst,
    /// The left hand.
    LeftHandFirst,
}

impl Order {
    /// The order a class has chosen.
    #[must_use]
    pub fn of(approach: &Approach, choices: &Choices) -> Self {
        match approach.chosen(ORDER, choices).map(|option| option.id.as_str()) {
            Some("bow-first") => Self::BowFirst,
            Some("left-hand-first") => Self::LeftHandFirst,
            _ => Self::SideBySide,
        }
    }

    /// Its place among all three.
    pub(crate) fn place(self) -> usize {
        match self {
            Self::SideBySide => 0,
            Self::BowFirst => 1,
            Self::LeftHandFirst => 2,
        }
    }

    /// How early a stage comes among those that do not wait for each other: the smallest first.
    pub(crate) fn rank(self, stage: &Stage) -> (u32, u32) {
        let strands = match self {
            Self::SideBySide => Strand::ALL,
            Self::BowFirst => [Strand::Bow, Strand::Hold, Strand::Frame, Strand::Tape],
            Self::LeftHandFirst => [Strand::Frame, Strand::Hold, Strand::Tape, Strand::Bow],
        };
        let strand = (0..).zip(strands).find(|(_, strand)| *strand == stage.strand).map_or(0, |(place, _)| place);
        match self {
            Self::SideBySide => (stage.number, strand),
            Self::BowFirst | Self::LeftHandFirst => (strand, stage.number),
        }
    }
}

/// What waits for something in work, the most first.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub enum InWork {
    /// The next stage: it is required and not at Prompted.
    Opens,
    /// Its own stage: it is required and not at Alone.
    Required,
    /// Nothing.
    Optional,
}

/// Why something is looked at.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Reason {
    /// The child said that it hurts, and nobody has said what was done.
    Hurts,
    /// The markers cannot be relied on.
    Tapes(TapeTrouble),
    /// It is amiss and comes from nothing else that is; it leads to these slips, ticked as well.
    Root(BTreeSet<SlipId>),
    /// What stands there is due for a look, so many meetings late.
    Due(u32),
    /// What stands there is due within [`SOON`] meetings: whoever is there takes it along.
    Soon,
    /// It is in work.
    InWork {
        /// In which stage.
        stage: StageId,
        /// What waits for it.
        how: InWork,
        /// Whether anybody has looked.
        seen: bool,
    },
    /// Nothing is there to be done, but the child must be seen.
    MustSee,
}

/// One thing to look at.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct NextCheck {
    /// A checkpoint, a whole stage, or of tapes the checkpoint that says whether they are as they should be.
    pub target: Target,
    /// The slip to work on there.
    pub slip: Option<SlipId>,
    /// Seconds it takes.
    pub seconds: u32,
    /// Why.
    pub reason: Reason,
    /// Looked at time and again without rising: try it another way, in a small group or with an accommodation.
    pub stuck: bool,
}

impl<'a> Pupil<'a> {
    /// The child's next checks, in order; each target once.
    #[must_use]
    pub fn next(&self, order: Order) -> Vec<NextCheck> {
        self.first_next(order, usize::MAX)
    }

    /// The first so many of [`Self::next`], found sooner.
    #[must_use]
    pub fn first_next(&self, order: Order, most: usize) -> Vec<NextCheck> {
        let set_aside = &self.ladder.set_aside;
        // What is set aside moves back, behind one more.
        let enough = most.saturating_add(set_aside.len() + 1);
        let amiss = self.amiss();
        let first = self.pain().chain(self.tapes_in_trouble()).chain(self.roots_in_order(&amiss));
        let mut list = List::default();
        for check in first {
            list.add(self, check, &amiss);
        }
        let mut due = self.due().into_iter();
        let mut in_work = self.in_work(order);
        while list.len() < enough {
            let added = list.add_next(self, &mut due, &amiss) | list.add_next(self, &mut in_work, &amiss);
            if !added {
                break;
            }
        }
        let mut list = list.with_set_aside(set_aside);
        list.truncate(most);
        list
    }

    /// A look at a target, for whatever reason; `None` where the checklist does not know it.
    #[must_use]
    pub fn check(&self, target: Target, slip: Option<SlipId>, reason: Reason) -> Option<NextCheck> {
        let seconds = match &target {
            Target::Stage(id) => self.look_seconds(self.checklist.stage(id.as_str())?),
            Target::Checkpoint(id) => self.checklist.checkpoint(id.as_str())?.seconds,
        };
        let stuck = match &target {
            Target::Checkpoint(id) => self.standings.get(id).is_some_and(Standing::is_stuck),
            Target::Stage(_) => false,
        };
        Some(NextCheck { target, slip, seconds, reason, stuck })
    }

    /// Where what a check works on often comes from: to look at first.
    pub fn often_from(&self, check: &NextCheck) -> impl Iterator<Item = &'a Node> + use<'a> {
        let node = node(&check.target, check.slip.as_ref());
        let from = node.into_iter().flat_map({
            let pupil = *self;
            move |node| pupil.causes.straight_to(pupil.instrument, &node).collect::<Vec<_>>()
        });
        from.filter(|from| !matches!(from, Node::Symptom(_)))
    }

    /// Seconds of a look at what stands in a stage: never more than one look at each of them.
    fn look_seconds(&self, stage: &Stage) -> u32 {
        let places = self.checklist.stage_place(&stage.id).into_iter().flat_map(|place| self.places_asked(place));
        let standing = places.filter(|place| self.ladder.levels[*place] >= Some(REACHES));
        standing.map(|place| self.checklist.checkpoints()[place].seconds).sum::<u32>().min(stage.seconds)
    }

    fn pain(&self) -> impl Iterator<Item = NextCheck> {
        self.context.pain.iter().filter_map(|target| self.check(target.clone(), None, Reason::Hurts))
    }

    fn tapes_in_trouble(&self) -> impl Iterator<Item = NextCheck> {
        let trouble = self.ladder.tapes.trouble;
        trouble.and_then(|trouble| self.tape_check(Reason::Tapes(trouble))).into_iter()
    }

    /// Ten seconds at the checkpoint that says whether the tapes are as they should be; none before a set is on, or once it is
    /// off.
    fn tape_check(&self, reason: Reason) -> Option<NextCheck> {
        let tapes = self.ladder.tapes;
        let number = match (tapes.trouble, tapes.state) {
            (Some(TapeTrouble::WrongInstrument), _) => 1,
            (Some(TapeTrouble::LooseOrMissing), _) | (None, TapeState::Placed) => 2,
            (Some(TapeTrouble::Drifted), _) | (None, TapeState::Heard | TapeState::Holding) => 4,
            (None, TapeState::Thinning) => 5,
            (None, TapeState::NotMeasured | TapeState::ReadyToPlace | TapeState::Bare | TapeState::NoneByChoice) => {
                return None;
            }
        };
        let stage = self.checklist.stages_of(Strand::Tape).find(|known| known.number == number)?;
        let checkpoint = self.asked(&stage.id).next()?;
        let check = self.check(Target::Checkpoint(checkpoint.id.clone()), None, reason)?;
        Some(NextCheck { seconds: TAPE_SECONDS, ..check })
    }

    /// What is amiss and comes from nothing else that is: most effects first, the latest first among equals.
    fn roots_in_order(&self, amiss: &BTreeMap<Node, DateTime<Utc>>) -> impl Iterator<Item = NextCheck> {
        let with_effects = self.roots(amiss).into_iter().map(|(node, at)| (node, at, self.effects(node, amiss)));
        let mut roots: Vec<_> = with_effects.collect();
        roots.sort_by_key(|(node, at, effects)| (Reverse(effects.len()), Reverse(*at), (*node).clone()));
        let checks = roots.into_iter().filter_map(|(node, _, effects)| {
            let (checkpoint, slip) = match node {
                Node::Slip(slip) => (self.checklist.slip(slip.as_str())?.checkpoint.clone(), Some(slip.clone())),
                Node::Checkpoint(id) => (id.clone(), self.first_slip(id)),
                Node::Symptom(_) => return None,
            };
            self.check(Target::Checkpoint(checkpoint), slip, Reason::Root(effects))
        });
        checks.collect::<Vec<_>>().into_iter()
    }

    fn first_slip(&self, id: &CheckpointId) -> Option<SlipId> {
        self.standings.get(id).and_then(|standing| standing.slips.first().cloned())
    }

    /// Looks at what stands and at tapes that are due, the latest first, then in the order of the ladder; then those that are due
    /// soon.
    fn due(&self) -> Vec<NextCheck> {
        let reason = |recheck: Option<Recheck>| match recheck? {
            Recheck::Fresh(meetings) => (meetings <= SOON).then_some(Reason::Soon),
            Recheck::Due => Some(Reason::Due(0)),
            Recheck::Overdue(meetings) => Some(Reason::Due(meetings)),
        };
        let stages = self
            .stages()
            .filter(|(stage, _)| stage.strand != Strand::Tape)
            .filter_map(|(stage, view)| self.check(Target::Stage(stage.id.clone()), None, reason(view.recheck)?));
        let tapes = self.ladder.tapes;
        let of_tapes = reason(tapes.recheck).filter(|_| tapes.trouble.is_none());
        let mut due: Vec<NextCheck> = stages.chain(of_tapes.and_then(|reason| self.tape_check(reason))).collect();
        due.sort_by_key(|check| match check.reason {
            Reason::Due(meetings) => (false, Reverse(meetings)),
            _ => (true, Reverse(0)),
        });
        due
    }

    /// What is below Alone in stages that are not shut: first what keeps the next stage shut, which is what is required and
    /// below Prompted; then what else is required; then what is optional; of each the earliest stage first. Tapes are worked
    /// on at the bench.
    fn in_work(&self, order: Order) -> impl Iterator<Item = NextCheck> + use<'a> {
        let pupil = *self;
        let is_open = move |place: &&usize| {
            let shut = matches!(pupil.ladder.stages[**place].state, StageState::Shut(_));
            pupil.checklist.stages()[**place].strand != Strand::Tape && !shut
        };
        // Mostly the first few are asked for: nothing further is looked at before it is wanted.
        [InWork::Opens, InWork::Required, InWork::Optional].into_iter().flat_map(move |how| {
            let places = working_order(pupil.checklist, pupil.instrument, order).iter().filter(is_open);
            let in_order = places.flat_map(move |place| pupil.places_asked(*place));
            let here = move |place: &usize| pupil.how_in_work(*place) == Some(how);
            in_order.filter(here).filter_map(move |place| {
                let one = &pupil.checklist.checkpoints()[place];
                let seen = pupil.ladder.levels[place].is_some();
                let slip = if seen { pupil.first_slip(&one.id) } else { None };
                let reason = Reason::InWork { stage: one.stage.clone(), how, seen };
                pupil.check(Target::Checkpoint(one.id.clone()), slip, reason)
            })
        })
    }

    /// What waits for the checkpoint at a place; `None` where it stands.
    fn how_in_work(&self, place: usize) -> Option<InWork> {
        let level = self.ladder.levels[place].unwrap_or(Level::NotYet);
        match (self.checklist.checkpoints()[place].required, level) {
            _ if level >= REACHES => None,
            (false, _) => Some(InWork::Optional),
            (true, level) if level >= PASSES => Some(InWork::Required),
            (true, _) => Some(InWork::Opens),
        }
    }
}
