//! What goes home as it is written: exercises, signs for a grown-up, the lines of every card.

use std::collections::BTreeMap;

use super::entry::Entry;
use super::fault::{At, Faults};
use super::read_lessons::by_instrument;
use crate::craft::instrument::Instrument;

/// What `home.toml` says.
#[derive(Default)]
pub(super) struct HomeDraft {
    pub(super) exercises: Vec<ExerciseDraft>,
    pub(super) signs: Vec<SignDraft>,
    pub(super) not_at_home: Vec<At<String>>,
    pub(super) sheets: Vec<SheetDraft>,
    /// Each line's key, and the line.
    pub(super) phrases: Vec<(At<String>, At<String>)>,
}

pub(super) struct ExerciseDraft {
    pub(super) block: At<String>,
    pub(super) after: Option<At<String>>,
    pub(super) drill: Option<At<String>>,
    pub(super) text: BTreeMap<Instrument, String>,
}

pub(super) struct SignDraft {
    pub(super) checkpoint: At<String>,
    pub(super) text: BTreeMap<Instrument, String>,
}

pub(super) struct SheetDraft {
    pub(super) kind: At<String>,
    pub(super) instruments: Vec<At<String>>,
    pub(super) title: At<String>,
    pub(super) lines: Vec<At<String>>,
    pub(super) fields: Vec<At<String>>,
}

pub(super) fn all(root: Entry<'_, '_>, faults: &mut Faults) -> HomeDraft {
    let mut texts =
        |entry: &Entry<'_, '_>| entry.table("text").map_or_else(BTreeMap::new, |table| by_instrument(&table, faults));
    let exercises = root.tables("exercise").into_iter().filter_map(|entry| {
        let (block, after, drill) = (entry.text("block"), entry.text_if_any("after"), entry.text_if_any("drill"));
        let text = texts(&entry);
        entry.finish();
        Some(ExerciseDraft { block: block?, after, drill, text })
    });
    let exercises = exercises.collect();
    let signs = root.tables("sign").into_iter().filter_map(|entry| {
        let (checkpoint, text) = (entry.text("checkpoint"), texts(&entry));
        entry.finish();
        Some(SignDraft { checkpoint: checkpoint?, text })
    });
    let signs = signs.collect();
    let phrases = root.table("phrase").map_or_else(Vec::new, |table| {
        let lines = table.keys().into_iter();
        lines.filter_map(|(key, value)| Some((key, table.as_text(value, "phrase")?))).collect()
    });
    let sheets = root.tables("sheet").into_iter().filter_map(|entry| {
        let (kind, instruments, title) = (entry.text("kind"), entry.texts("on"), entry.text("title"));
        let (lines, fields) = (entry.texts("lines"), entry.texts("fields"));
        entry.finish();
        Some(SheetDraft { kind: kind?, instruments, title: title?, lines, fields })
    });
    let sheets = sheets.collect();
    let not_at_home = root.texts("not_at_home");
    root.finish();
    HomeDraft { exercises, signs, not_at_home, sheets, phrases }
}
