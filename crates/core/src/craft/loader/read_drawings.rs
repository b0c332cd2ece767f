//! Drawings as they are written: views, and what is set of their numbers.

use super::entry::Entry;
use super::fault::At;
use crate::figure::Setting;

/// Everything that is drawn.
#[derive(Default)]
pub(super) struct DrawingsDraft {
    pub(super) checkpoints: Vec<CheckpointDrawingDraft>,
    pub(super) slips: Vec<DrawnDraft>,
    pub(super) options: Vec<OptionDrawingDraft>,
    pub(super) drills: Vec<DrillDrawingDraft>,
}

/// A view and what is set.
pub(super) struct FigureDraft {
    pub(super) here: At<()>,
    pub(super) view: Option<At<String>>,
    /// The checkpoint whose drawing it begins with.
    pub(super) like: Option<At<String>>,
    pub(super) from: Vec<(At<String>, At<Setting>)>,
    pub(super) set: Vec<(At<String>, At<Setting>)>,
    pub(super) amiss: Vec<At<String>>,
    pub(super) moves: bool,
    /// Of an option: it shows the option and changes no other drawing.
    pub(super) own: bool,
    /// Of a step: the slip that may be shown before it.
    pub(super) other: Option<At<String>>,
}

/// A drawing for each of some instruments, whose keys stand with spaces between them.
pub(super) type OnInstruments = Vec<(At<String>, FigureDraft)>;

/// Something with an id and its drawings.
pub(super) struct DrawnDraft {
    pub(super) id: At<String>,
    pub(super) on: OnInstruments,
}

pub(super) struct CheckpointDrawingDraft {
    pub(super) id: At<String>,
    pub(super) on: OnInstruments,
    pub(super) proof: OnInstruments,
}

pub(super) struct OptionDrawingDraft {
    pub(super) choice: At<String>,
    pub(super) option: At<String>,
    pub(super) on: OnInstruments,
}

pub(super) struct DrillDrawingDraft {
    pub(super) id: At<String>,
    pub(super) steps: Vec<OnInstruments>,
}

pub(super) fn all(root: Entry<'_, '_>, into: &mut DrawingsDraft) {
    into.checkpoints.extend(root.tables("checkpoint").into_iter().filter_map(|entry| {
        let (id, on, proof) = (entry.text("id"), on(&entry, "on"), on(&entry, "proof"));
        entry.finish();
        Some(CheckpointDrawingDraft { id: id?, on, proof })
    }));
    into.slips.extend(root.tables("slip").into_iter().filter_map(|entry| {
        let (id, on) = (entry.text("id"), on(&entry, "on"));
        entry.finish();
        Some(DrawnDraft { id: id?, on })
    }));
    into.options.extend(root.tables("option").into_iter().filter_map(|entry| {
        let (choice, option, on) = (entry.text("choice"), entry.text("option"), on(&entry, "on"));
        entry.finish();
        Some(OptionDrawingDraft { choice: choice?, option: option?, on })
    }));
    into.drills.extend(root.tables("drill").into_iter().filter_map(|entry| {
        let id = entry.text("id");
        let steps = entry.tables("steps").into_iter().map(|step| {
            let drawn = on_each(&step);
            drop(step);
            drawn
        });
        let steps = steps.collect();
        entry.finish();
        Some(DrillDrawingDraft { id: id?, steps })
    }));
    root.finish();
}

fn on(entry: &Entry<'_, '_>, key: &'static str) -> OnInstruments {
    entry.table(key).map_or_else(Vec::new, |table| on_each(&table))
}

fn on_each(table: &Entry<'_, '_>) -> OnInstruments {
    let keys = table.keys().into_iter();
    keys.filter_map(|(instruments, value)| {
        let entry = table.entry(value, &instruments.value)?;
        Some((instruments, figure(entry)))
    })
    .collect()
}

/// One drawing.
pub(super) fn figure(entry: Entry<'_, '_>) -> FigureDraft {
    let draft = FigureDraft {
        here: entry.here(()),
        view: entry.text_if_any("view"),
        like: entry.text_if_any("like"),
        from: settings(&entry, "from"),
        set: settings(&entry, "set"),
        amiss: entry.texts("amiss"),
        moves: entry.flag("moves"),
        own: entry.flag("own"),
        other: entry.text_if_any("other"),
    };
    entry.finish();
    draft
}

fn settings(entry: &Entry<'_, '_>, key: &'static str) -> Vec<(At<String>, At<Setting>)> {
    entry.table(key).map_or_else(Vec::new, |table| {
        let values = table.keys().into_iter();
        values.filter_map(|(name, value)| Some((name, table.as_setting(value, key)?))).collect()
    })
}
