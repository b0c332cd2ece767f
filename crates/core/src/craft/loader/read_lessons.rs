//! Lessons as they are written: drills, and what differs between the instruments. A class's own drills are written alike.

use std::collections::{BTreeMap, BTreeSet};

use super::entry::Entry;
use super::fault::{At, Fault, Faults, instrument_set};
use crate::craft::drills::{Drill, DrillFault, DrillLevel, DrillStep, OptionNeeded};
use crate::craft::id::StageId;
use crate::craft::instrument::Instrument;
use crate::craft::strand::Strand;

/// Drills, and what differs between the instruments.
#[derive(Default)]
pub(super) struct LessonsDraft {
    pub(super) drills: Vec<WrittenDrill>,
    pub(super) glances: Vec<GlanceDraft>,
}

/// A drill and where it stands.
pub(super) struct WrittenDrill {
    pub(super) drill: Drill,
    /// Its id.
    pub(super) id: At<()>,
    /// Each step.
    pub(super) steps: Vec<At<()>>,
}

impl WrittenDrill {
    /// A fault of the drill as one of its file.
    pub(super) fn fault(&self, fault: &DrillFault) -> Fault {
        let at = fault.step.and_then(|step| self.steps.get(step)).unwrap_or(&self.id);
        at.fault(format!("`{}`, {}: {}", self.drill.id, fault.field, fault.message))
    }
}

pub(super) struct GlanceDraft {
    pub(super) instruments: Vec<At<String>>,
    pub(super) thumb: At<String>,
    pub(super) spacing: At<String>,
}

pub(super) fn glances(root: Entry<'_, '_>) -> Vec<GlanceDraft> {
    let glances = root.tables("glance").into_iter().filter_map(|entry| {
        let (instruments, thumb) = (entry.texts("on"), entry.text("thumb"));
        let spacing = entry.text("spacing");
        entry.finish();
        Some(GlanceDraft { instruments, thumb: thumb?, spacing: spacing? })
    });
    let glances = glances.collect();
    root.finish();
    glances
}

pub(super) fn drills(root: Entry<'_, '_>, faults: &mut Faults) -> Vec<WrittenDrill> {
    let strand = root.text("strand");
    let drills = root.tables("drill").into_iter().filter_map(|entry| drill(entry, strand.as_ref(), faults)).collect();
    root.finish();
    drills
}

/// A drill; its strand stands in it, or once for its whole file.
pub(super) fn drill(entry: Entry<'_, '_>, file: Option<&At<String>>, faults: &mut Faults) -> Option<WrittenDrill> {
    let (id, name, aim) = (entry.text("id"), entry.text("name"), entry.text("aim"));
    let own = if file.is_none() { entry.text("strand") } else { None };
    let strand = own.as_ref().or(file);
    let (instruments, after) = (entry.texts("on"), entry.text_if_any("after"));
    let (tempo, rounds) = (entry.whole_number("tempo"), entry.whole_number("rounds"));
    let levels = levels(&entry.texts("levels"), faults);
    let [with, prefer] = ["with", "prefer"].map(|key| entry.table(key).and_then(chosen_option));
    let mut places = Vec::new();
    let mut steps = Vec::new();
    for found in entry.tables("step") {
        places.push(found.here(()));
        steps.extend(step(found, faults));
    }
    entry.finish();
    let known = strand.and_then(|strand| Strand::parse(&strand.value));
    if let Some(strand) = strand.filter(|_| known.is_none()) {
        faults.push(strand.fault("a strand of drills is hold, bow or frame"));
    }
    let (id, name, strand, aim, tempo, rounds) = (id?, name?, known?, aim?, tempo?, rounds?);
    // A step that cannot be read is a fault already; what is said of the others would be of the wrong one.
    if places.len() != steps.len() {
        return None;
    }
    let here = At { file: id.file.clone(), line: id.line, value: () };
    let drill = Drill {
        id: id.value,
        name: name.value,
        strand,
        instruments: instrument_set(&instruments, faults),
        after: after.map(|after| StageId::new(after.value)),
        with,
        prefer,
        aim: aim.value,
        tempo: tempo.value,
        rounds: rounds.value,
        levels,
        steps,
    };
    Some(WrittenDrill { drill, id: here, steps: places })
}

fn chosen_option(entry: Entry<'_, '_>) -> Option<OptionNeeded> {
    let (choice, option) = (entry.text("choice"), entry.text("option"));
    entry.finish();
    Some(OptionNeeded { choice: choice?.value, option: option?.value })
}

fn step(entry: Entry<'_, '_>, faults: &mut Faults) -> Option<DrillStep> {
    let beats = entry.whole_number("beats");
    let repeats = entry.whole_number_if_any("repeats").map_or(1, |at| at.value);
    let (load, quiet) = (entry.flag("load"), entry.flag("quiet"));
    let only = levels(&entry.texts("only"), faults).into_iter().collect::<BTreeSet<_>>();
    let say = entry.texts("say").into_iter().map(|at| at.value).collect();
    let text = entry.table("text").map_or_else(BTreeMap::new, |table| by_instrument(&table, faults));
    entry.finish();
    Some(DrillStep { beats: beats?.value, repeats, load, quiet, only, say, text })
}

fn levels(words: &[At<String>], faults: &mut Faults) -> Vec<DrillLevel> {
    let mut levels = Vec::new();
    for word in words {
        match DrillLevel::parse(&word.value) {
            Some(level) => levels.push(level),
            None => faults.push(word.fault(format!("`{}` is not one of rests, joined, bowed", word.value))),
        }
    }
    levels
}

/// A table of texts whose keys are instruments: `"vn va" = "..."`.
pub(super) fn by_instrument(table: &Entry<'_, '_>, faults: &mut Faults) -> BTreeMap<Instrument, String> {
    let mut text = BTreeMap::new();
    for (keys, value) in table.keys() {
        let Some(words) = table.as_text(value, "text") else { continue };
        let part = |key: &str| At { file: keys.file.clone(), line: keys.line, value: key.to_owned() };
        let on: Vec<At<String>> = keys.value.split_whitespace().map(part).collect();
        for instrument in instrument_set(&on, faults) {
            if text.insert(instrument, words.value.clone()).is_some() {
                faults.push(words.fault(format!("the {} stands here twice", instrument.name())));
            }
        }
    }
    text
}
