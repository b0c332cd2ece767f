//! From TOML tables to a draft of the content: what is written, not yet whether it fits together.

use super::entry::{Entry, File};
use super::fault::{Fault, Source};
use super::read_drawings;
use super::read_home;
use super::read_lessons;
use super::tunes;
use crate::craft::loader::draft::AlternativeDraft;
use crate::craft::loader::draft::CauseDraft;
use crate::craft::loader::draft::CheckpointDraft;
use crate::craft::loader::draft::ChoiceDraft;
use crate::craft::loader::draft::Draft;
use crate::craft::loader::draft::InstrumentDraft;
use crate::craft::loader::draft::LeadsDraft;
use crate::craft::loader::draft::OptionDraft;
use crate::craft::loader::draft::RewordDraft;
use crate::craft::loader::draft::SizeDraft;
use crate::craft::loader::draft::SlipDraft;
use crate::craft::loader::draft::SlipWordsDraft;
use crate::craft::loader::draft::StageDraft;
use crate::craft::loader::draft::StrandDraft;
use crate::craft::loader::draft::SymptomDraft;
use crate::craft::loader::draft::SymptomsDraft;
use crate::craft::loader::draft::UndecidedDraft;
use crate::craft::loader::draft::WeightsDraft;
use crate::craft::loader::draft::WordingDraft;

pub(super) fn all(sources: &[Source<'_>]) -> (Draft, Vec<Fault>) {
    let mut draft = Draft::default();
    let mut faults = Vec::new();
    for source in sources {
        let file = File::new(*source);
        let table = file.parse();
        let root = file.root(&table);
        match source.path {
            "instruments.toml" => draft.instruments.extend(instruments(root)),
            "approach.toml" => draft.choices.extend(choices(root)),
            "slips.toml" => {
                draft.leads.extend(root.tables("leads").into_iter().filter_map(leads));
                draft.slips.extend(slips(root));
            }
            "symptoms.toml" => draft.symptoms = symptoms(root),
            "lessons.toml" => draft.lessons.glances = read_lessons::glances(root),
            "home.toml" => draft.home = read_home::all(root, &mut faults),
            "tunes.toml" => draft.tunes = tunes::read(root),
            path if path.starts_with("drills/") => {
                draft.lessons.drills.extend(read_lessons::drills(root, &mut faults));
            }
            path if path.starts_with("drawings/") => read_drawings::all(root, &mut draft.drawings),
            path if path.starts_with("checklist/") => draft.strands.extend(strand(root)),
            _ => faults.push(root.here(()).fault("no file of this name belongs to the content")),
        }
        faults.extend(file.into_faults());
    }
    (draft, faults)
}

fn instruments(root: Entry<'_, '_>) -> Vec<InstrumentDraft> {
    let read = root.tables("instrument").into_iter().filter_map(|entry| {
        let name = entry.text("name");
        let strings = entry.texts("strings");
        let sizes = entry
            .tables("sizes")
            .into_iter()
            .map(|size| {
                let read = SizeDraft {
                    name: size.text("name"),
                    string_length_mm: size.number("string_length_mm"),
                    from_mm: size.number("from_mm"),
                    span_from_mm: size.number("span_from_mm"),
                    without_pin_mm: size.number("without_pin_mm"),
                };
                size.finish();
                read
            })
            .collect();
        let (measure, markers) = (entry.text("measure"), entry.texts("markers"));
        let strip_mm = entry.whole_number("strip_mm").unwrap_or_else(|| entry.here(1));
        let string_height_mm = entry.number("string_height_mm");
        entry.finish();
        Some(InstrumentDraft { name: name?, strings, sizes, measure, markers, strip_mm, string_height_mm })
    });
    let read = read.collect();
    root.finish();
    read
}

fn choices(root: Entry<'_, '_>) -> Vec<ChoiceDraft> {
    let read = root.tables("choice").into_iter().filter_map(|entry| {
        let (key, name, instruments) = (entry.text("key"), entry.text("name"), entry.texts("on"));
        let (group, why, changes) = (entry.text("group"), entry.text("why"), entry.text("changes"));
        let per_child = entry.flag("per_child");
        let options = entry.tables("options").into_iter().filter_map(option).collect();
        entry.finish();
        Some(ChoiceDraft {
            key: key?,
            name: name?,
            group: group?,
            why: why?,
            changes: changes?,
            per_child,
            instruments,
            options,
        })
    });
    let read = read.collect();
    root.finish();
    read
}

fn option(entry: Entry<'_, '_>) -> Option<OptionDraft> {
    let (id, name) = (entry.text("id"), entry.text("name"));
    let (means, suits) = (entry.text("means"), entry.text("suits"));
    let words = entry.table("words").map_or_else(Vec::new, |table| {
        let values = table.keys().into_iter();
        values.filter_map(|(key, value)| Some((key, table.as_text(value, "words")?))).collect()
    });
    let (leaves_out, asks_again) = (entry.texts("leaves_out"), entry.texts("asks_again"));
    let asks_again_after = entry.text_if_any("asks_again_after");
    let slips = entry.tables("slips").into_iter().filter_map(|slip| {
        let (id, name, look, help) = (slip.text("id"), slip.text("name"), slip.text("look"), slip.text("help"));
        slip.finish();
        Some(SlipWordsDraft { id: id?, name: name?, look: look?, help: help? })
    });
    let slips = slips.collect();
    let rewords = entry.tables("reword").into_iter().filter_map(|words| {
        let (checkpoint, instruments) = (words.text("checkpoint"), words.texts("on"));
        let [look_for, proof, cue] = ["look_for", "proof", "cue"].map(|key| words.text_if_any(key));
        words.finish();
        Some(RewordDraft { checkpoint: checkpoint?, instruments, look_for, proof, cue })
    });
    let rewords = rewords.collect();
    let refuses = entry.texts("refuses");
    let (turns_into, turns_after_days) =
        (entry.text_if_any("turns_into"), entry.whole_number_if_any("turns_after_days"));
    entry.finish();
    let (id, name, means, suits) = (id?, name?, means?, suits?);
    Some(OptionDraft {
        id,
        name,
        means,
        suits,
        words,
        leaves_out,
        asks_again,
        asks_again_after,
        slips,
        rewords,
        refuses,
        turns_into,
        turns_after_days,
    })
}

fn leads(entry: Entry<'_, '_>) -> Option<LeadsDraft> {
    let (from, to) = (entry.text("from"), entry.texts("to"));
    entry.finish();
    Some(LeadsDraft { from: from?, to })
}

fn symptoms(root: Entry<'_, '_>) -> SymptomsDraft {
    let symptoms = root.tables("symptom").into_iter().filter_map(|entry| {
        let (id, name, how) = (entry.text("id"), entry.text("name"), entry.text("how"));
        let (instruments, asks, normal) = (entry.texts("on"), entry.texts("asks"), entry.flag("normal"));
        let by_ear = entry.texts("by_ear");
        entry.finish();
        Some(SymptomDraft { id: id?, name: name?, how: how?, instruments, asks, by_ear, normal })
    });
    let undecided = root.tables("undecided").into_iter().map(|entry| {
        let undecided = UndecidedDraft { slips: entry.texts("slips"), symptoms: entry.texts("symptoms") };
        entry.finish();
        undecided
    });
    let causes = root.tables("cause").into_iter().map(cause);
    let only_seen = root.texts("only_seen");
    let read = SymptomsDraft {
        symptoms: symptoms.collect(),
        causes: causes.collect(),
        undecided: undecided.collect(),
        only_seen,
    };
    root.finish();
    read
}

fn cause(entry: Entry<'_, '_>) -> CauseDraft {
    let weights = entry.table("weights").map_or_else(Vec::new, |table| weights_of(&table));
    let weights_on = entry.table("weights_on").map_or_else(Vec::new, |table| {
        let on = table.keys().into_iter();
        on.filter_map(|(key, value)| Some((key, weights_of(&table.entry(value, "weights_on")?)))).collect()
    });
    let draft = CauseDraft {
        here: entry.here(()),
        id: entry.text_if_any("id"),
        slip: entry.text_if_any("slip"),
        name: entry.text_if_any("name"),
        side: entry.text_if_any("side"),
        instruments: entry.texts("on"),
        checkpoint: entry.text_if_any("checkpoint"),
        help: entry.text_if_any("help"),
        facts: entry.texts("facts"),
        against: entry.texts("against"),
        only: entry.texts("only"),
        is_its_checkpoint: entry.flag("is_its_checkpoint"),
        restates: entry.text_if_any("restates"),
        weights,
        weights_on,
    };
    entry.finish();
    draft
}

fn weights_of(table: &Entry<'_, '_>) -> WeightsDraft {
    let values = table.keys().into_iter();
    values.filter_map(|(key, value)| Some((key, table.as_whole_number(value, "weights")?))).collect()
}

fn strand(root: Entry<'_, '_>) -> Option<StrandDraft> {
    let key = root.text("strand");
    let name = root.text("name");
    let stages = root.tables("stage").into_iter().filter_map(stage).collect();
    root.finish();
    Some(StrandDraft { key: key?, name: name?.value, stages })
}

fn stage(entry: Entry<'_, '_>) -> Option<StageDraft> {
    let (number, name, seconds) = (entry.whole_number("number"), entry.text("name"), entry.seconds());
    let (needs, needs_alone) = (entry.texts("needs"), entry.texts("needs_alone"));
    let alternatives = entry.tables("instead").into_iter().filter_map(instead).collect();
    let checkpoints = entry.tables("checkpoint").into_iter().filter_map(checkpoint).collect();
    entry.finish();
    Some(StageDraft { number: number?, name: name?, seconds, needs, needs_alone, alternatives, checkpoints })
}

fn instead(entry: Entry<'_, '_>) -> Option<AlternativeDraft> {
    let (choice, option, needs) = (entry.text("choice"), entry.text("option"), entry.texts("needs"));
    entry.finish();
    Some(AlternativeDraft { choice: choice?, option: option?, needs })
}

fn checkpoint(entry: Entry<'_, '_>) -> Option<CheckpointDraft> {
    let (id, name, seconds) = (entry.text("id"), entry.text("name"), entry.seconds());
    let (required, far, play) = (entry.flag("required"), entry.flag("far"), entry.flag("play"));
    let wording = entry.table("wording").map_or_else(Vec::new, |table| wordings(&table));
    entry.finish();
    Some(CheckpointDraft { id: id?, name: name?, seconds, required, far, play, wording })
}

fn wordings(table: &Entry<'_, '_>) -> Vec<WordingDraft> {
    let keys = table.keys().into_iter();
    keys.filter_map(|(instruments, value)| {
        let entry = table.entry(value, &instruments.value)?;
        let (look_for, proof, cue) = (entry.text_if_any("look_for"), entry.text("proof"), entry.text("cue"));
        entry.finish();
        Some(WordingDraft { instruments, look_for, proof, cue })
    })
    .collect()
}

fn slips(root: Entry<'_, '_>) -> Vec<SlipDraft> {
    let read = root.tables("slip").into_iter().filter_map(|entry| {
        let (id, name, checkpoint) = (entry.text("id"), entry.text("name"), entry.text("checkpoint"));
        let (instruments, look, help) = (entry.texts("on"), entry.text("look"), entry.text("help"));
        entry.finish();
        Some(SlipDraft { id: id?, name: name?, instruments, checkpoint: checkpoint?, look: look?, help: help? })
    });
    let read = read.collect();
    root.finish();
    read
}
