//! From how it is to how it becomes right: the drawing between two, and the earlier one as a fine line behind the later.

use super::parameters::{Range, Setting, Settings};
use super::shape::{Class, Figure, Shape};
use super::spec::FigureSpec;
use crate::instrument::Instrument;

/// The drawing between two of one view, `share` of the way from the first to the second, 0 to 1. Numbers go evenly, words
/// change in the middle. Drawings of different views do not become each other: it is one or the other.
#[must_use]
pub fn becoming(from: &FigureSpec, to: &FigureSpec, instrument: Instrument, share: f64) -> FigureSpec {
    let share = if share.is_nan() { 1.0 } else { share.clamp(0.0, 1.0) };
    let nearer = if share < 0.5 { from } else { to };
    if from.view != to.view {
        return nearer.clone();
    }
    let mut set = Settings::new();
    for parameter in to.view.parameters() {
        let setting = match parameter.range {
            Range::Word { .. } => Setting::Word(parameter.word(instrument, &nearer.set).to_owned()),
            Range::Number { least, most, .. } => {
                let (a, b) = (parameter.number(instrument, &from.set), parameter.number(instrument, &to.set));
                // Exact at both ends.
                Setting::Number((a * (1.0 - share) + b * share).clamp(least, most))
            }
        };
        if setting != parameter.usual(instrument) {
            set.insert(parameter.name.to_owned(), setting);
        }
    }
    FigureSpec { view: to.view, set, amiss: nearer.amiss.clone() }
}

/// A drawing as it is asked for: on its way from an earlier one where a share of it is named, else with the earlier one behind
/// it; as in a mirror where that is wanted.
#[must_use]
pub fn picture(
    spec: &FigureSpec,
    instrument: Instrument,
    before: Option<&FigureSpec>,
    share: Option<f64>,
    mirrored: bool,
) -> Figure {
    let figure = match (before, share) {
        (Some(before), Some(share)) => becoming(before, spec, instrument, share).draw(instrument),
        (Some(before), None) => {
            let (figure, before) = (spec.draw(instrument), before.draw(instrument));
            // Of another view, or another part of it: they cannot lie on each other.
            let alike = (figure.width, figure.height) == (before.width, before.height);
            if alike { figure.over(&before) } else { figure }
        }
        _ => spec.draw(instrument),
    };
    if mirrored { figure.mirrored() } else { figure }
}

impl Figure {
    /// The same with what was otherwise before behind it, faded or as a fine line, and the lozenges of what was amiss.
    #[must_use]
    pub fn over(mut self, before: &Figure) -> Self {
        let faded = |class: Class| match class {
            Class::Limb => Some(Class::Faded),
            Class::Touch | Class::Amiss | Class::Good | Class::Nail | Class::Guide | Class::Skin => None,
            _ => Some(Class::Ghost),
        };
        let changed = before.shapes.iter().filter(|shape| !self.shapes.contains(shape));
        let behind = changed.filter_map(|shape| Some(Shape { class: faded(shape.class)?, d: shape.d.clone() }));
        let behind: Vec<Shape> = behind.collect();
        self.shapes.splice(0..0, behind);
        self.shapes.extend(before.shapes.iter().filter(|shape| shape.class == Class::Amiss).cloned());
        self
    }
}
