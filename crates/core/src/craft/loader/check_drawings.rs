//! Drawings from what is written: views and numbers that exist, and a drawing for everything that is judged by eye.

use std::collections::BTreeMap;

use super::fault::{At, Faults, instrument_set};
use super::read_drawings::{
    CheckpointDrawingDraft, DrawingsDraft, DrawnDraft, DrillDrawingDraft, FigureDraft, OnInstruments,
    OptionDrawingDraft,
};
use crate::craft::approach::{Approach, Choices};
use crate::craft::checklist::Checklist;
use crate::craft::drawings::{
    BOTH, CONTRAST, CheckpointSketch, Drawings, OnEach, OptionSketch, SlipSketch, StepDrawing, StepSketch,
};
use crate::craft::drills::Lessons;
use crate::craft::edits::Edits;
use crate::craft::id::{CheckpointId, SlipId};
use crate::craft::instrument::Instrument;
use crate::craft::strand::Strand;
use crate::figure::{FigureSpec, Part, Setting, Settings, View};

pub(super) fn all(
    draft: DrawingsDraft,
    (checklist, approach, lessons): (&Checklist, &Approach, &Lessons),
    faults: &mut Faults,
) -> Drawings {
    let mut drawings = Drawings::default();
    for written in draft.checkpoints {
        checkpoint(written, checklist, &mut drawings, faults);
    }
    for written in draft.options {
        option(&written, approach, &mut drawings, faults);
    }
    let mut places = BTreeMap::new();
    for written in draft.slips {
        places.insert(SlipId::new(written.id.value.clone()), at(&written.id));
        slip(written, checklist, &mut drawings, faults);
    }
    for written in draft.drills {
        drill(written, lessons, &mut drawings, faults);
    }
    let whole = At { file: "drawings".to_owned(), line: 1, value: () };
    for (id, on) in drawings.undrawn(checklist) {
        faults.push(whole.fault(format!("`{id}` is not drawn on the {}", on.name())));
    }
    let drawn = |id: &SlipId, on: Instrument| drawings.slips.get(id).is_some_and(|(_, drawn)| drawn.contains_key(&on));
    for slip in checklist.slips().iter().filter(|slip| !slip.checkpoint.as_str().starts_with(Strand::Tape.key())) {
        for on in slip.instruments.iter().filter(|on| !drawn(&slip.id, **on)) {
            faults.push(whole.fault(format!("the slip `{}` is not drawn on the {}", slip.id, on.name())));
        }
    }
    for drill in lessons.drills.iter().filter(|drill| !drawings.steps.contains_key(&drill.id)) {
        faults.push(whole.fault(format!("the drill `{}` is not drawn", drill.id)));
    }
    let places = |id: &SlipId| places.get(id).unwrap_or(&whole);
    alike(&drawings, approach, places, &whole, faults);
    drawings
}

/// What differs has to be seen: a slip, and what a class that sees both is shown before a step.
fn alike<'a>(
    drawings: &Drawings,
    approach: &Approach,
    places: impl Fn(&SlipId) -> &'a At<()>,
    whole: &At<()>,
    faults: &mut Faults,
) {
    let both = Choices::from([(CONTRAST.to_owned(), BOTH.to_owned())]);
    let drawn = drawings.under(approach, &both, &Edits::default());
    let seen = |spec: &FigureSpec, on: Instrument| FigureSpec { amiss: Vec::new(), ..spec.clone() }.draw(on);
    for (id, on) in &drawn.slips {
        for (on, drawn) in on.iter().filter(|(on, drawn)| seen(&drawn.amiss, **on) == seen(&drawn.right, **on)) {
            let message = format!("`{id}` looks the same as right on the {}: `{}`", on.name(), drawn.right.view.word());
            faults.push(places(id).fault(message));
        }
    }
    for (drill, steps) in &drawn.steps {
        for (number, on) in steps.iter().enumerate() {
            let same = |(on, step): &(&Instrument, &StepDrawing)| {
                step.other.as_ref().is_some_and(|other| seen(other, **on) == seen(&step.figure, **on))
            };
            for (on, _) in on.iter().filter(same) {
                let message = format!("step {} of `{drill}` looks like its `other` on the {}", number + 1, on.name());
                faults.push(whole.fault(message));
            }
        }
    }
}

fn at<T>(of: &At<T>) -> At<()> {
    At { file: of.file.clone(), line: of.line, value: () }
}

/// The drawings of each instrument that the keys name.
fn each<T>(
    written: OnInstruments,
    faults: &mut Faults,
    mut read: impl FnMut(&FigureDraft, Instrument, &mut Faults) -> Option<T>,
) -> OnEach<T> {
    let mut on = OnEach::new();
    for (keys, draft) in written {
        let part = |key: &str| At { file: keys.file.clone(), line: keys.line, value: key.to_owned() };
        let keys_of: Vec<At<String>> = keys.value.split_whitespace().map(part).collect();
        for instrument in instrument_set(&keys_of, faults) {
            if let Some(read) = read(&draft, instrument, faults)
                && on.insert(instrument, read).is_some()
            {
                faults.push(keys.fault(format!("the {} stands here twice", instrument.name())));
            }
        }
    }
    on
}

fn settings(written: &[(At<String>, At<Setting>)]) -> Settings {
    written.iter().map(|(name, to)| (name.value.clone(), to.value.clone())).collect()
}

fn view(draft: &FigureDraft, faults: &mut Faults) -> Option<View> {
    let Some(word) = &draft.view else {
        faults.push(draft.here.fault("`view` is missing"));
        return None;
    };
    let view = View::parse(&word.value);
    if view.is_none() {
        let known: Vec<&str> = View::ALL.iter().map(|view| view.word()).collect();
        faults.push(word.fault(format!("there is no view `{}`; there are {}", word.value, known.join(", "))));
    }
    view
}

/// A view with numbers that it has, within their ranges.
fn spec(draft: &FigureDraft, view: View, on: Instrument, faults: &mut Faults) -> FigureSpec {
    let amiss = draft.amiss.iter().filter_map(|word| {
        let part = Part::parse(&word.value);
        if part.is_none() {
            faults.push(word.fault(format!("there is no part `{}`", word.value)));
        }
        part
    });
    let amiss = amiss.collect();
    let mut set = settings(&draft.from);
    set.extend(settings(&draft.set));
    let spec = FigureSpec { view, set, amiss };
    for fault in spec.faults(on) {
        let place = draft.set.iter().chain(&draft.from).find(|(name, _)| name.value == fault.field);
        faults.push(place.map_or_else(|| at(&draft.here), |(name, _)| at(name)).fault(fault.message));
    }
    spec
}

/// The drawing of a class's own checkpoint; its numbers are looked at with the rest of the checkpoint.
pub(super) fn own(draft: &FigureDraft, faults: &mut Faults) -> Option<FigureSpec> {
    Some(FigureSpec { set: settings(&draft.set), ..FigureSpec::usual(view(draft, faults)?) })
}

fn checkpoint(written: CheckpointDrawingDraft, checklist: &Checklist, drawings: &mut Drawings, faults: &mut Faults) {
    let id = written.id.value.clone();
    let Some(known) = checklist.checkpoint(&id) else {
        faults.push(written.id.fault(format!("there is no checkpoint `{id}`")));
        return;
    };
    let look = each(written.on, faults, |draft, on, faults| Some(spec(draft, view(draft, faults)?, on, faults)));
    let mut proof =
        each(written.proof, faults, |draft, on, faults| Some(spec(draft, view(draft, faults)?, on, faults)));
    for on in look.keys().chain(proof.keys()).filter(|on| !known.wording.contains_key(on)) {
        faults.push(written.id.fault(format!("`{id}` has no wording for the {}", on.name())));
    }
    let drawn = look.into_iter().map(|(on, look)| (on, CheckpointSketch { look, proof: proof.remove(&on) })).collect();
    if drawings.checkpoints.insert(CheckpointId::new(id.clone()), drawn).is_some() {
        faults.push(written.id.fault(format!("`{id}` is drawn twice")));
    }
}

fn option(written: &OptionDrawingDraft, approach: &Approach, drawings: &mut Drawings, faults: &mut Faults) {
    let (choice, option) = (&written.choice.value, &written.option.value);
    if !approach.has(choice, option) {
        faults.push(written.choice.fault(format!("there is no choice `{choice}` with an option `{option}`")));
        return;
    }
    for (keys, draft) in &written.on {
        let part = |key: &str| At { file: keys.file.clone(), line: keys.line, value: key.to_owned() };
        let on: Vec<Instrument> =
            instrument_set(&keys.value.split_whitespace().map(part).collect::<Vec<_>>(), faults).into_iter().collect();
        let Some(view) = view(draft, faults) else { continue };
        let Some(first) = on.first() else { continue };
        let sketch = spec(draft, view, *first, faults);
        drawings.options.push(OptionSketch {
            choice: choice.clone(),
            option: option.clone(),
            sketch,
            on,
            own: draft.own,
        });
    }
}

fn slip(written: DrawnDraft, checklist: &Checklist, drawings: &mut Drawings, faults: &mut Faults) {
    let id = &written.id;
    let Some(known) = checklist.slip(&id.value) else {
        faults.push(id.fault(format!("there is no slip `{}`", id.value)));
        return;
    };
    let checkpoint = known.checkpoint.clone();
    let on = each(written.on, faults, |draft, on, faults| {
        let spec = spec(draft, view(draft, faults)?, on, faults);
        if spec.amiss.is_empty() {
            faults.push(draft.here.fault("`amiss` names what to stress"));
        }
        Some(SlipSketch { view: spec.view, from: settings(&draft.from), set: settings(&draft.set), amiss: spec.amiss })
    });
    for instrument in on.keys().filter(|on| !known.instruments.contains(on)) {
        faults.push(id.fault(format!("`{}` is not known on the {}", id.value, instrument.name())));
    }
    if drawings.slips.insert(SlipId::new(id.value.clone()), (checkpoint, on)).is_some() {
        faults.push(id.fault(format!("`{}` is drawn twice", id.value)));
    }
}

fn drill(written: DrillDrawingDraft, lessons: &Lessons, drawings: &mut Drawings, faults: &mut Faults) {
    let id = &written.id;
    let Some(known) = lessons.drill(&id.value) else {
        faults.push(id.fault(format!("there is no drill `{}`", id.value)));
        return;
    };
    if written.steps.len() != known.steps.len() {
        let (drawn, steps) = (written.steps.len(), known.steps.len());
        faults.push(id.fault(format!("`{}` has {steps} steps, and {drawn} are drawn", id.value)));
    }
    let mut steps = Vec::new();
    for (number, step) in written.steps.into_iter().enumerate() {
        let on = each(step, faults, |draft, on, faults| step_sketch(draft, on, drawings, faults));
        for instrument in known.instruments.iter().filter(|instrument| !on.contains_key(instrument)) {
            let message = format!("step {} of `{}` is not drawn on the {}", number + 1, id.value, instrument.name());
            faults.push(id.fault(message));
        }
        steps.push(on);
    }
    if drawings.steps.insert(id.value.clone(), steps).is_some() {
        faults.push(id.fault(format!("`{}` is drawn twice", id.value)));
    }
}

fn step_sketch(draft: &FigureDraft, on: Instrument, drawings: &Drawings, faults: &mut Faults) -> Option<StepSketch> {
    let like = draft.like.as_ref().map(|id| CheckpointId::new(id.value.clone()));
    let view = match (&like, &draft.like) {
        (Some(like), Some(at)) => {
            let drawn = drawings.checkpoints.get(like).and_then(|drawn| drawn.get(&on));
            if drawn.is_none() {
                faults.push(at.fault(format!("`{like}` is not drawn on the {}", on.name())));
            }
            drawn?.look.view
        }
        _ => view(draft, faults)?,
    };
    let spec = spec(draft, view, on, faults);
    let other = draft.other.as_ref().and_then(|slip| other(slip, view, on, drawings, faults));
    Some(StepSketch { view: like.is_none().then_some(view), like, set: spec.set, moves: draft.moves, other })
}

/// The slip that a step shows before it is right: drawn on this instrument, and from the same side.
fn other(written: &At<String>, view: View, on: Instrument, drawings: &Drawings, faults: &mut Faults) -> Option<SlipId> {
    let id = SlipId::new(written.value.clone());
    let drawn = drawings.slips.get(&id).and_then(|(_, drawn)| drawn.get(&on));
    if drawn.is_none_or(|drawn| drawn.view != view) {
        let (view, on) = (view.word(), on.name());
        faults.push(written.fault(format!("there is no slip `{id}` in the view `{view}` on the {on}")));
        return None;
    }
    Some(id)
}
