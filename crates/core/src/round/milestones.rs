//! What most of a class, or of a section, come to: stages, and hands that are ready for markers.

use std::sync::Arc;

use crate::craft::checklist::Checklist;
use crate::craft::instrument::Instrument;
use crate::craft::level::Level;
use crate::craft::needs_by_place::NeedAt;
use crate::craft::strand::Strand;
use crate::round::forecast::Prospect;
use crate::round::reading::Reading;

/// So many children of every hundred are most.
const MOST: usize = 80;

/// Whether so many of all are most of them.
#[must_use]
pub fn are_most(there: usize, all: usize) -> bool {
    there * 100 >= all * MOST
}

/// What children come to; stages by their places.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Goal {
    /// The hand is ready for markers.
    Markers,
    /// The stage is open.
    Begun(usize),
    /// The stage is reached.
    Reached(usize),
}

/// Something that most of a class, or of a section, will come to.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Milestone {
    /// What.
    pub goal: Goal,
    /// By whom; `None` for the whole class.
    pub section: Option<Instrument>,
    /// How many children that are.
    pub children: usize,
}

impl Milestone {
    /// Whether most of these have come to it.
    pub(super) fn is_reached<'b>(
        &self,
        children: impl Iterator<Item = (Instrument, &'b Checklist, &'b Reading)>,
    ) -> bool {
        let of_section = children.filter(|(instrument, ..)| self.section.is_none_or(|section| section == *instrument));
        let (mut there, mut all) = (0, 0);
        for (instrument, checklist, read) in of_section {
            all += 1;
            there += usize::from(match self.goal {
                Goal::Begun(stage) => read.open[stage] || read.reached[stage],
                Goal::Reached(stage) => read.reached[stage],
                Goal::Markers => ready_for_tapes(checklist, instrument, read),
            });
        }
        are_most(there, all)
    }
}

/// Whether a stage is worked on that waits for markers, or there is none: with markers taken to be on, the hand is ready.
fn ready_for_tapes(checklist: &Checklist, instrument: Instrument, read: &Reading) -> bool {
    let waits = |stage: &usize| {
        let needs = checklist.needs_at(*stage, instrument).iter();
        let mut tapes = needs.filter_map(|need| match need {
            NeedAt::Stage(stage) => *stage,
            NeedAt::Checkpoint(..) => None,
        });
        checklist.stages()[*stage].strand != Strand::Tape
            && tapes.any(|stage| checklist.stages()[stage].strand == Strand::Tape)
    };
    (0..checklist.stages().len()).find(waits).is_none_or(|stage| read.open[stage] || read.reached[stage])
}

/// What most of the class, and of each section of at least two, have not come to yet; markers only where most have none.
pub(super) fn milestones_ahead(children: &[Prospect<'_>], readings: &[Arc<Reading>]) -> Vec<Milestone> {
    let Some(first) = children.first() else { return Vec::new() };
    let playing = |instrument: Instrument| children.iter().filter(|child| child.playing.now == instrument).count();
    let sections = Instrument::ALL.into_iter().map(|instrument| (Some(instrument), playing(instrument)));
    let sections: Vec<_> = sections.filter(|(_, count)| *count > 1 && *count < children.len()).collect();
    let who = [(None, children.len())].into_iter().chain(sections);
    let stages = first.checklist.stages().iter().enumerate().filter(|(_, stage)| stage.strand != Strand::Tape);
    let with_markers = children.iter().filter(|child| has_markers(child)).count();
    let markers = (with_markers * 100 < children.len() * MOST).then_some(Goal::Markers);
    let of_stages = stages.flat_map(|(stage, _)| [Goal::Begun(stage), Goal::Reached(stage)]);
    let goals: Vec<Goal> = markers.into_iter().chain(of_stages).collect();
    let all =
        who.flat_map(|(section, children)| goals.iter().map(move |goal| Milestone { goal: *goal, section, children }));
    let read = || {
        let each = children.iter().zip(readings);
        each.map(|(child, read)| (child.playing.now, child.checklist, &**read))
    };
    all.filter(|milestone| !milestone.is_reached(read())).collect()
}

/// The tape stage of markers that are on.
const LAID: u32 = 2;

/// Whether markers are on, or are not wanted.
fn has_markers(child: &Prospect<'_>) -> bool {
    let laid = |checklist: &Checklist| {
        let places = (0..checklist.stages().len()).filter(|stage| {
            checklist.stages()[*stage].strand == Strand::Tape && checklist.stages()[*stage].number == LAID
        });
        let mut looks = places.flat_map(|stage| checklist.places_of(stage)).filter_map(|place| {
            child.standings.get(&checklist.checkpoints()[place].id).map(|standing| standing.peak >= Level::Alone)
        });
        looks.any(|laid| laid)
    };
    let logged = child.context.tapes.as_ref().is_some_and(|tapes| tapes.state.stage() >= LAID);
    child.checklist.is_bare() || logged || laid(child.checklist)
}
