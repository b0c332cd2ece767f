//! From TOML tables to a draft of the content: what is written, not yet whether it fits together.

use super::entry::{Entry, File};
use super::{At, Fault, Source};

/// What the files say.
#[derive(Default)]
pub(super) struct Draft {
    pub(super) instruments: Vec<InstrumentDraft>,
    pub(super) strands: Vec<StrandDraft>,
    pub(super) slips: Vec<SlipDraft>,
    pub(super) choices: Vec<ChoiceDraft>,
}

pub(super) struct InstrumentDraft {
    pub(super) name: At<String>,
    pub(super) strings: Vec<At<String>>,
    pub(super) sizes: Vec<SizeDraft>,
    pub(super) measure: Option<At<String>>,
    pub(super) marks: Vec<At<String>>,
    pub(super) strip_mm: At<u32>,
}

pub(super) struct SizeDraft {
    pub(super) name: Option<At<String>>,
    pub(super) string_length_mm: Option<At<f64>>,
    pub(super) from_mm: Option<At<f64>>,
    pub(super) span_from_mm: Option<At<f64>>,
    pub(super) without_pin_mm: Option<At<f64>>,
}

pub(super) struct ChoiceDraft {
    pub(super) key: At<String>,
    pub(super) name: At<String>,
    pub(super) instruments: Vec<At<String>>,
    pub(super) options: Vec<OptionDraft>,
}

pub(super) struct OptionDraft {
    pub(super) id: At<String>,
    pub(super) name: At<String>,
    pub(super) means: At<String>,
}

pub(super) struct StrandDraft {
    pub(super) key: At<String>,
    pub(super) name: String,
    pub(super) stages: Vec<StageDraft>,
}

pub(super) struct StageDraft {
    pub(super) number: At<u32>,
    pub(super) name: At<String>,
    pub(super) seconds: At<u32>,
    pub(super) needs: Vec<At<String>>,
    pub(super) needs_alone: Vec<At<String>>,
    pub(super) checkpoints: Vec<CheckpointDraft>,
}

pub(super) struct CheckpointDraft {
    pub(super) id: At<String>,
    pub(super) name: At<String>,
    pub(super) seconds: At<u32>,
    pub(super) required: bool,
    pub(super) far: bool,
    pub(super) play: bool,
    pub(super) wording: Vec<WordingDraft>,
}

pub(super) struct WordingDraft {
    /// Instrument keys with a space between them: `vn va`.
    pub(super) instruments: At<String>,
    pub(super) look_for: Option<At<String>>,
    pub(super) proof: Option<At<String>>,
    pub(super) cue: Option<At<String>>,
}

pub(super) struct SlipDraft {
    pub(super) id: At<String>,
    pub(super) name: At<String>,
    pub(super) instruments: Vec<At<String>>,
    pub(super) checkpoint: At<String>,
    pub(super) look: At<String>,
    pub(super) help: At<String>,
}

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
            "slips.toml" => draft.slips.extend(slips(root)),
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
        let (measure, marks) = (entry.text("measure"), entry.texts("marks"));
        let strip_mm = entry.whole_number("strip_mm").unwrap_or_else(|| entry.here(1));
        entry.finish();
        Some(InstrumentDraft { name: name?, strings, sizes, measure, marks, strip_mm })
    });
    let read = read.collect();
    root.finish();
    read
}

fn choices(root: Entry<'_, '_>) -> Vec<ChoiceDraft> {
    let read = root.tables("choice").into_iter().filter_map(|entry| {
        let (key, name, instruments) = (entry.text("key"), entry.text("name"), entry.texts("on"));
        let options = entry.tables("options").into_iter().filter_map(|option| {
            let (id, name, means) = (option.text("id"), option.text("name"), option.text("means"));
            option.finish();
            Some(OptionDraft { id: id?, name: name?, means: means? })
        });
        let options = options.collect();
        entry.finish();
        Some(ChoiceDraft { key: key?, name: name?, instruments, options })
    });
    let read = read.collect();
    root.finish();
    read
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
    let checkpoints = entry.tables("checkpoint").into_iter().filter_map(checkpoint).collect();
    entry.finish();
    Some(StageDraft { number: number?, name: name?, seconds, needs, needs_alone, checkpoints })
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
