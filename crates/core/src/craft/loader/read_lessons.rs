//! Lessons as they are written: drills, and what differs between the instruments.

use super::entry::Entry;
use super::fault::At;

/// Drills, and what differs between the instruments.
#[derive(Default)]
pub(super) struct LessonsDraft {
    pub(super) drills: Vec<DrillDraft>,
    pub(super) glances: Vec<GlanceDraft>,
}

pub(super) struct DrillDraft {
    pub(super) id: At<String>,
    pub(super) name: At<String>,
    pub(super) strand: At<String>,
    pub(super) after: Option<At<String>>,
    pub(super) minutes: At<u32>,
    pub(super) load: bool,
    pub(super) aim: At<String>,
    pub(super) steps: Vec<StepDraft>,
}

pub(super) struct StepDraft {
    pub(super) count: At<u32>,
    pub(super) text: Vec<(At<String>, At<String>)>,
}

pub(super) struct GlanceDraft {
    pub(super) instruments: Vec<At<String>>,
    pub(super) thumb: At<String>,
    pub(super) spacing: At<String>,
}

pub(super) fn lessons(root: Entry<'_, '_>) -> LessonsDraft {
    let drills = root.tables("drill").into_iter().filter_map(drill).collect();
    let glances = root.tables("glance").into_iter().filter_map(|entry| {
        let (instruments, thumb) = (entry.texts("on"), entry.text("thumb"));
        let spacing = entry.text("spacing");
        entry.finish();
        Some(GlanceDraft { instruments, thumb: thumb?, spacing: spacing? })
    });
    let read = LessonsDraft { drills, glances: glances.collect() };
    root.finish();
    read
}

fn drill(entry: Entry<'_, '_>) -> Option<DrillDraft> {
    let (id, name, strand) = (entry.text("id"), entry.text("name"), entry.text("strand"));
    let (after, minutes, load) = (entry.text_if_any("after"), entry.whole_number("minutes"), entry.flag("load"));
    let aim = entry.text("aim");
    let steps = entry.tables("step").into_iter().filter_map(|step| {
        let count = step.whole_number("count");
        let text = step.table("text").map_or_else(Vec::new, |table| {
            let values = table.keys().into_iter();
            values.filter_map(|(key, value)| Some((key, table.as_text(value, "text")?))).collect()
        });
        step.finish();
        Some(StepDraft { count: count?, text })
    });
    let steps = steps.collect();
    entry.finish();
    let (id, name, strand, minutes, aim) = (id?, name?, strand?, minutes?, aim?);
    Some(DrillDraft { id, name, strand, after, minutes, load, aim, steps })
}
