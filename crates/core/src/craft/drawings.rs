//! How it looks when it is right: which drawing belongs to a checkpoint, an option, a slip, a step of a drill; and what a
//! class's options make of it.
//!
//! Numbers come on top of each other: those that are usual on the instrument, then those of the chosen options, then those of
//! the checkpoint itself; a slip's or a step's are laid over them.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use crate::craft::approach::{Approach, Choices};
use crate::craft::checklist::Checklist;
use crate::craft::drills::Drill;
use crate::craft::edits::Edits;
use crate::craft::id::{CheckpointId, SlipId};
use crate::craft::instrument::Instrument;
use crate::craft::strand::Strand;
use crate::figure::{FigureSpec, Part, Settings, View};

/// Whether only the right shape is shown to a class, or the other first.
pub(crate) const CONTRAST: &str = "contrast";
/// Its option: the other first, then the right one.
pub(crate) const BOTH: &str = "both";

/// A value for each instrument.
pub type OnEach<T> = BTreeMap<Instrument, T>;

/// A checkpoint's drawings on an instrument.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct CheckpointDrawing {
    /// What to look for.
    pub look: FigureSpec,
    /// The proof, where a drawing shows it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "schema", schema(required = false))]
    pub proof: Option<FigureSpec>,
    /// The look with one of its slips, and what to stress: the class as a whole is shown it before the look, in classes that see
    /// the other first. None in all others.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "schema", schema(required = false))]
    pub other: Option<FigureSpec>,
}

/// How a slip looks on an instrument, and how the same looks when it is right.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct SlipDrawing {
    /// With the slip, and with what to stress.
    pub amiss: FigureSpec,
    /// Right, from the same side.
    pub right: FigureSpec,
}

/// A step of a drill on an instrument.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct StepDrawing {
    /// What is done.
    pub figure: FigureSpec,
    /// Whether it moves there from the step before.
    pub moves: bool,
    /// With a slip, and what to stress: it is shown before `figure` in classes that see the other first. None in all others.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "schema", schema(required = false))]
    pub other: Option<FigureSpec>,
}

/// A slip's drawing as it is written.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct SlipSketch {
    pub(crate) view: View,
    /// What is set for right and amiss alike.
    pub(crate) from: Settings,
    pub(crate) set: Settings,
    pub(crate) amiss: Vec<Part>,
}

impl SlipSketch {
    /// What is right, with this slip, and what to stress.
    fn over(&self, right: &FigureSpec) -> FigureSpec {
        FigureSpec { amiss: self.amiss.clone(), ..right.with(&self.set) }
    }
}

/// A step's drawing as it is written.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct StepSketch {
    /// Whose drawing it begins with.
    pub(crate) like: Option<CheckpointId>,
    /// Else the view.
    pub(crate) view: Option<View>,
    pub(crate) set: Settings,
    pub(crate) moves: bool,
    /// What may be shown before it.
    pub(crate) other: Option<SlipId>,
}

/// A checkpoint's drawing and its proof's as they are written.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct CheckpointSketch {
    pub(crate) look: FigureSpec,
    pub(crate) proof: Option<FigureSpec>,
}

/// What an option sets.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct OptionSketch {
    pub(crate) choice: String,
    pub(crate) option: String,
    pub(crate) sketch: FigureSpec,
    /// On these instruments.
    pub(crate) on: Vec<Instrument>,
    /// It shows the option, and changes no other drawing.
    pub(crate) own: bool,
}

/// All drawings, as they ship.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Drawings {
    pub(crate) checkpoints: BTreeMap<CheckpointId, OnEach<CheckpointSketch>>,
    pub(crate) options: Vec<OptionSketch>,
    pub(crate) slips: BTreeMap<SlipId, (CheckpointId, OnEach<SlipSketch>)>,
    pub(crate) steps: BTreeMap<String, Vec<OnEach<StepSketch>>>,
}

/// The drawings of a class, or of a child with options of its own.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct ClassDrawings {
    /// Of each checkpoint that is drawn.
    #[cfg_attr(feature = "schema", schema(value_type = BTreeMap<String, OnEach<CheckpointDrawing>>))]
    pub checkpoints: BTreeMap<CheckpointId, OnEach<CheckpointDrawing>>,
    /// Of each slip.
    #[cfg_attr(feature = "schema", schema(value_type = BTreeMap<String, OnEach<SlipDrawing>>))]
    pub slips: BTreeMap<SlipId, OnEach<SlipDrawing>>,
    /// Of each step of each drill.
    pub steps: BTreeMap<String, Vec<OnEach<StepDrawing>>>,
    /// Of each option that changes a shape: by choice and option.
    pub options: BTreeMap<String, BTreeMap<String, OnEach<FigureSpec>>>,
}

impl Drawings {
    /// What the chosen options set of a view.
    fn chosen(&self, view: View, instrument: Instrument, approach: &Approach, choices: &Choices) -> Settings {
        let mut set = Settings::new();
        let of_view =
            |sketch: &&OptionSketch| !sketch.own && sketch.sketch.view == view && sketch.on.contains(&instrument);
        for sketch in self.options.iter().filter(of_view) {
            let chosen = approach.chosen(&sketch.choice, choices).is_some_and(|option| option.id == sketch.option);
            if chosen {
                set.extend(sketch.sketch.set.clone());
            }
        }
        set
    }

    /// As somebody with these choices and changes sees it.
    #[must_use]
    pub fn under(&self, approach: &Approach, choices: &Choices, edits: &Edits) -> ClassDrawings {
        let with = |spec: &FigureSpec, instrument: Instrument| {
            let chosen = self.chosen(spec.view, instrument, approach, choices);
            FigureSpec { amiss: spec.amiss.clone(), ..FigureSpec::usual(spec.view).with(&chosen).with(&spec.set) }
        };
        let mut drawings = ClassDrawings::default();
        for (id, on) in &self.checkpoints {
            let drawn = on.iter().map(|(instrument, sketch)| {
                let proof = sketch.proof.as_ref().map(|proof| with(proof, *instrument));
                (*instrument, CheckpointDrawing { look: with(&sketch.look, *instrument), proof, other: None })
            });
            drawings.checkpoints.insert(id.clone(), drawn.collect());
        }
        for (id, own) in &edits.own {
            if let Some(look) = &own.figure {
                let drawn = own
                    .wording
                    .keys()
                    .map(|on| (*on, CheckpointDrawing { look: look.clone(), proof: None, other: None }));
                drawings.checkpoints.insert(id.clone(), drawn.collect());
            }
        }
        for (id, (checkpoint, on)) in &self.slips {
            let drawn = on.iter().map(|(instrument, sketch)| {
                let looked = drawings.checkpoints.get(checkpoint).and_then(|on| on.get(instrument));
                let same = looked.filter(|drawn| drawn.look.view == sketch.view).map(|drawn| drawn.look.clone());
                let right =
                    same.unwrap_or_else(|| with(&FigureSpec::usual(sketch.view), *instrument)).with(&sketch.from);
                (*instrument, SlipDrawing { amiss: sketch.over(&right), right })
            });
            let drawn = drawn.collect();
            drawings.slips.insert(id.clone(), drawn);
        }
        let both = approach.chosen(CONTRAST, choices).is_some_and(|option| option.id == BOTH);
        if both {
            self.set_others(&mut drawings);
        }
        for (drill, steps) in &self.steps {
            let drawn = steps.iter().map(|on| {
                on.iter().filter_map(|(instrument, sketch)| {
                    let like = sketch.like.as_ref();
                    let look = like
                        .and_then(|id| drawings.checkpoints.get(id)?.get(instrument))
                        .map(|drawn| drawn.look.clone());
                    let base = look.or_else(|| sketch.view.map(|view| with(&FigureSpec::usual(view), *instrument)))?;
                    let figure = base.with(&sketch.set);
                    let other = sketch.other.as_ref().filter(|_| both);
                    let other = other.and_then(|slip| Some(self.slips.get(slip)?.1.get(instrument)?.over(&figure)));
                    Some((*instrument, StepDrawing { figure, moves: sketch.moves, other }))
                })
            });
            let drawn = drawn.map(Iterator::collect).collect();
            drawings.steps.insert(drill.clone(), drawn);
        }
        for drill in edits.drills.values() {
            let steps = drill.steps.iter().map(|step| step.text.keys().map(|on| (*on, own_step(drill))).collect());
            drawings.steps.insert(drill.id.clone(), steps.collect());
        }
        for sketch in &self.options {
            let choice = drawings.options.entry(sketch.choice.clone()).or_default();
            let option = choice.entry(sketch.option.clone()).or_default();
            for instrument in &sketch.on {
                // The first drawing of an option says most.
                option.entry(*instrument).or_insert_with(|| {
                    let mut chosen = choices.clone();
                    chosen.insert(sketch.choice.clone(), sketch.option.clone());
                    let set = self.chosen(sketch.sketch.view, *instrument, approach, &chosen);
                    FigureSpec::usual(sketch.sketch.view).with(&set).with(&sketch.sketch.set)
                });
            }
        }
        drawings
    }

    /// To each look its first slip that is seen from the same side.
    fn set_others(&self, drawings: &mut ClassDrawings) {
        for (id, (checkpoint, _)) in &self.slips {
            let (Some(slip), Some(looks)) = (drawings.slips.get(id), drawings.checkpoints.get_mut(checkpoint)) else {
                continue;
            };
            for (instrument, look) in looks.iter_mut().filter(|(_, look)| look.other.is_none()) {
                let same = slip.get(instrument).filter(|slip| slip.right == look.look);
                look.other = same.map(|slip| slip.amiss.clone());
            }
        }
    }

    /// The checkpoints and instruments that have to be drawn and are not.
    pub(crate) fn undrawn<'a>(
        &'a self,
        checklist: &'a Checklist,
    ) -> impl Iterator<Item = (&'a CheckpointId, Instrument)> {
        let strand = |id: &CheckpointId| !id.as_str().starts_with(Strand::Tape.key());
        let wanted = checklist.checkpoints().iter().filter(move |checkpoint| strand(&checkpoint.id));
        let each = wanted.flat_map(|checkpoint| checkpoint.wording.keys().map(|on| (&checkpoint.id, *on)));
        each.filter(|(id, on)| self.checkpoints.get(*id).is_none_or(|drawn| !drawn.contains_key(on)))
    }
}

/// The steps of a class's own drill show what its strand is about.
fn own_step(drill: &Drill) -> StepDrawing {
    let view = match drill.strand {
        Strand::Hold => View::Body,
        Strand::Bow => View::BowHand,
        Strand::Frame | Strand::Tape => View::LeftHand,
    };
    StepDrawing { figure: FigureSpec::usual(view), moves: false, other: None }
}

impl ClassDrawings {
    /// What differs from another: what a child with options of its own sees otherwise than its class.
    #[must_use]
    pub fn differing_from(&self, class: &Self) -> Self {
        fn other<K: Ord + Clone, T: PartialEq + Clone>(own: &BTreeMap<K, T>, known: &BTreeMap<K, T>) -> BTreeMap<K, T> {
            let differs = own.iter().filter(|(key, drawn)| known.get(*key) != Some(drawn));
            differs.map(|(key, drawn)| (key.clone(), drawn.clone())).collect()
        }
        Self {
            checkpoints: other(&self.checkpoints, &class.checkpoints),
            slips: other(&self.slips, &class.slips),
            steps: BTreeMap::new(),
            options: BTreeMap::new(),
        }
    }
}
