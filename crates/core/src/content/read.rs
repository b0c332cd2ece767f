//! From TOML tables to a draft of the content: what is written, not yet whether it fits together.

use super::entry::{Entry, File};
use super::read_lessons::{LessonsDraft, lessons};
use super::{At, Fault, Source, tunes};

/// What the files say.
#[derive(Default)]
pub(super) struct Draft {
    pub(super) instruments: Vec<InstrumentDraft>,
    pub(super) strands: Vec<StrandDraft>,
    pub(super) slips: Vec<SlipDraft>,
    pub(super) leads: Vec<LeadsDraft>,
    pub(super) choices: Vec<ChoiceDraft>,
    pub(super) signs: SignsDraft,
    pub(super) lessons: LessonsDraft,
    pub(super) tunes: Vec<tunes::TuneDraft>,
}

/// What is heard or seen, and its causes.
#[derive(Default)]
pub(super) struct SignsDraft {
    pub(super) signs: Vec<SignDraft>,
    pub(super) causes: Vec<CauseDraft>,
    pub(super) silences: Vec<SilenceDraft>,
}

pub(super) struct SignDraft {
    pub(super) id: At<String>,
    pub(super) name: At<String>,
    pub(super) how: At<String>,
    pub(super) instruments: Vec<At<String>>,
}

pub(super) struct CauseDraft {
    /// Where it stands, for faults about what is missing.
    pub(super) here: At<()>,
    pub(super) id: Option<At<String>>,
    pub(super) slip: Option<At<String>>,
    pub(super) name: Option<At<String>>,
    pub(super) side: Option<At<String>>,
    pub(super) instruments: Vec<At<String>>,
    pub(super) checkpoint: Option<At<String>>,
    pub(super) help: Option<At<String>>,
    pub(super) facts: Vec<At<String>>,
    pub(super) tight: bool,
    pub(super) votes: Vec<(At<String>, At<u32>)>,
}

pub(super) struct SilenceDraft {
    pub(super) slips: Vec<At<String>>,
    pub(super) signs: Vec<At<String>>,
}

pub(super) struct LeadsDraft {
    pub(super) from: At<String>,
    pub(super) to: Vec<At<String>>,
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
    pub(super) group: At<String>,
    pub(super) why: At<String>,
    pub(super) changes: At<String>,
    pub(super) per_child: bool,
    pub(super) instruments: Vec<At<String>>,
    pub(super) options: Vec<OptionDraft>,
}

pub(super) struct OptionDraft {
    pub(super) id: At<String>,
    pub(super) name: At<String>,
    pub(super) means: At<String>,
    pub(super) suits: At<String>,
    pub(super) words: Vec<(At<String>, At<String>)>,
    pub(super) leaves_out: Vec<At<String>>,
    pub(super) asks_again: Vec<At<String>>,
    pub(super) asks_again_after: Option<At<String>>,
    pub(super) slips: Vec<SlipWordsDraft>,
}

pub(super) struct SlipWordsDraft {
    pub(super) id: At<String>,
    pub(super) name: At<String>,
    pub(super) look: At<String>,
}

pub(super) struct InsteadDraft {
    pub(super) choice: At<String>,
    pub(super) option: At<String>,
    pub(super) needs: Vec<At<String>>,
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
    pub(super) insteads: Vec<InsteadDraft>,
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
            "slips.toml" => {
                draft.leads.extend(root.tables("leads").into_iter().filter_map(leads));
                draft.slips.extend(slips(root));
            }
            "signs.toml" => draft.signs = signs(root),
            "lessons.toml" => draft.lessons = lessons(root),
            "tunes.toml" => draft.tunes = tunes::read(root),
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
        let (id, name, look) = (slip.text("id"), slip.text("name"), slip.text("look"));
        slip.finish();
        Some(SlipWordsDraft { id: id?, name: name?, look: look? })
    });
    let slips = slips.collect();
    entry.finish();
    let (id, name, means, suits) = (id?, name?, means?, suits?);
    Some(OptionDraft { id, name, means, suits, words, leaves_out, asks_again, asks_again_after, slips })
}

fn leads(entry: Entry<'_, '_>) -> Option<LeadsDraft> {
    let (from, to) = (entry.text("from"), entry.texts("to"));
    entry.finish();
    Some(LeadsDraft { from: from?, to })
}

fn signs(root: Entry<'_, '_>) -> SignsDraft {
    let signs = root.tables("sign").into_iter().filter_map(|entry| {
        let (id, name, how) = (entry.text("id"), entry.text("name"), entry.text("how"));
        let instruments = entry.texts("on");
        entry.finish();
        Some(SignDraft { id: id?, name: name?, how: how?, instruments })
    });
    let silences = root.tables("silent").into_iter().map(|entry| {
        let silence = SilenceDraft { slips: entry.texts("slips"), signs: entry.texts("signs") };
        entry.finish();
        silence
    });
    let causes = root.tables("cause").into_iter().map(cause);
    let read = SignsDraft { signs: signs.collect(), causes: causes.collect(), silences: silences.collect() };
    root.finish();
    read
}

fn cause(entry: Entry<'_, '_>) -> CauseDraft {
    let votes = entry.table("votes").map_or_else(Vec::new, |table| {
        let values = table.keys().into_iter();
        values.filter_map(|(key, value)| Some((key, table.as_whole_number(value, "votes")?))).collect()
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
        tight: entry.flag("tight"),
        votes,
    };
    entry.finish();
    draft
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
    let insteads = entry.tables("instead").into_iter().filter_map(instead).collect();
    let checkpoints = entry.tables("checkpoint").into_iter().filter_map(checkpoint).collect();
    entry.finish();
    Some(StageDraft { number: number?, name: name?, seconds, needs, needs_alone, insteads, checkpoints })
}

fn instead(entry: Entry<'_, '_>) -> Option<InsteadDraft> {
    let (choice, option, needs) = (entry.text("choice"), entry.text("option"), entry.texts("needs"));
    entry.finish();
    Some(InsteadDraft { choice: choice?, option: option?, needs })
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
