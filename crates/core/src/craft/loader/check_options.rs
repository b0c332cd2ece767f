//! The options to choose from, and the placeholders in the checklist's texts that they fill.

use std::collections::{BTreeMap, BTreeSet};

use super::draft::{ChoiceDraft, OptionDraft, RewordDraft, SlipWordsDraft};
use super::fault::At;
use super::fault::{Faults, Texts, instrument_set, short};
use crate::craft::approach::{
    Approach, Choice, ChoiceOption, MARKERS, NO_MARKERS, ORDER, PIN, SUPPORT, SlipWords, THINGS, Turn, placeholders,
};
use crate::craft::checklist::Checklist;
use crate::craft::edits::Rewording;
use crate::craft::id::{CheckpointId, SlipId, StageId};
use crate::craft::instrument::Instrument;
use crate::craft::limits::{MAX_CUE_LENGTH, MAX_LOOK_FOR_LENGTH, MAX_MEANS_LENGTH, MAX_NAME_LENGTH, MAX_PROOF_LENGTH};

/// Choices the code asks for by name: they must be there.
const WANTED: [(&str, &[&str]); 5] = [
    (SUPPORT, &["sponge", "shoulder-rest", "bare"]),
    (PIN, &["seated", "standing", "floor", "cheekbone"]),
    (ORDER, &["side-by-side", "bow-first", "left-hand-first"]),
    (THINGS, &["three", "two", "one"]),
    (MARKERS, &[NO_MARKERS]),
];
/// The most days after which an option turns into another: a school year.
const MAX_TURN_DAYS: u32 = 366;
/// The longest name of an option.
const MAX_OPTION_LENGTH: usize = 48;

pub(super) fn approach(drafts: Vec<ChoiceDraft>, checklist: &Checklist, faults: &mut Faults) -> Approach {
    let mut keys = BTreeSet::new();
    let mut choices: Vec<Choice> = Vec::new();
    for draft in drafts {
        if !keys.insert(draft.key.value.clone()) {
            faults.push(draft.key.fault(format!("`{}` stands here twice", draft.key.value)));
        }
        choices.push(choice(draft, checklist, faults));
    }
    let whole = At { file: "approach.toml".to_owned(), line: 1, value: () };
    for (key, options) in WANTED {
        let known = |id: &str| choices.iter().any(|c| c.key == key && c.options.iter().any(|option| option.id == id));
        for id in options.iter().filter(|id| !known(id)) {
            faults.push(whole.fault(format!("the choice `{key}` has no option `{id}`")));
        }
    }
    Approach { choices }
}

fn choice(draft: ChoiceDraft, checklist: &Checklist, faults: &mut Faults) -> Choice {
    short(&draft.name, "name", MAX_OPTION_LENGTH, faults);
    short(&draft.group, "group", MAX_NAME_LENGTH, faults);
    short(&draft.why, "reason", MAX_MEANS_LENGTH, faults);
    short(&draft.changes, "list of changes", MAX_MEANS_LENGTH, faults);
    let mut ids = BTreeSet::new();
    for option in &draft.options {
        if !ids.insert(&option.id.value) {
            faults.push(option.id.fault(format!("`{}` stands here twice", option.id.value)));
        }
    }
    if draft.options.len() < 2 {
        faults.push(draft.key.fault("a choice has at least two options, the default first"));
    }
    let instruments = instrument_set(&draft.instruments, faults);
    let options: Vec<ChoiceOption> = draft.options.into_iter().map(|draft| option(draft, checklist, faults)).collect();
    for other in options.iter().skip(1) {
        if other.words.keys().ne(options[0].words.keys()) {
            faults.push(draft.key.fault(format!("`{}` and `{}` fill different placeholders", options[0].id, other.id)));
        }
    }
    for option in &options {
        let Some(turn) = &option.turns else { continue };
        let into = options.iter().find(|other| other.id == turn.into);
        if into.is_none_or(|into| into.turns.is_some()) {
            let message = format!("`{}` turns into `{}`, which is no option that stays", option.id, turn.into);
            faults.push(draft.key.fault(message));
        }
    }
    Choice {
        key: draft.key.value,
        name: draft.name.value,
        group: draft.group.value,
        instruments,
        why: draft.why.value,
        changes: draft.changes.value,
        per_child: draft.per_child,
        options,
    }
}

fn option(draft: OptionDraft, checklist: &Checklist, faults: &mut Faults) -> ChoiceOption {
    short(&draft.name, "name", MAX_OPTION_LENGTH, faults);
    short(&draft.means, "meaning", MAX_MEANS_LENGTH, faults);
    short(&draft.suits, "note on who likes it", MAX_MEANS_LENGTH, faults);
    let mut checkpoints = |ids: Vec<At<String>>| -> BTreeSet<CheckpointId> {
        for id in ids.iter().filter(|id| checklist.checkpoint(&id.value).is_none()) {
            faults.push(id.fault(format!("there is no checkpoint `{}`", id.value)));
        }
        ids.into_iter().map(|id| CheckpointId::new(id.value)).collect()
    };
    let (leaves_out, asks_again) = (checkpoints(draft.leaves_out), checkpoints(draft.asks_again));
    if let Some(after) = draft.asks_again_after.iter().find(|after| checklist.stage(&after.value).is_none()) {
        faults.push(after.fault(format!("there is no stage `{}`", after.value)));
    }
    if asks_again.is_empty() != draft.asks_again_after.is_none() {
        faults.push(draft.id.fault("`asks_again` and `asks_again_after` go together"));
    }
    let turns = match (draft.turns_into, draft.turns_after_days) {
        (Some(into), Some(after)) => {
            if !(1..=MAX_TURN_DAYS).contains(&after.value) {
                faults.push(after.fault(format!("`turns_after_days` is 1 to {MAX_TURN_DAYS}")));
            }
            Some(Turn { into: into.value, after_days: after.value })
        }
        (None, None) => None,
        _ => {
            faults.push(draft.id.fault("`turns_into` and `turns_after_days` go together"));
            None
        }
    };
    ChoiceOption {
        id: draft.id.value,
        name: draft.name.value,
        means: draft.means.value,
        suits: draft.suits.value,
        words: draft.words.into_iter().map(|(part, words)| (part.value, words.value)).collect(),
        leaves_out,
        asks_again,
        asks_again_after: draft.asks_again_after.map(|after| StageId::new(after.value)),
        slips: slip_words(draft.slips, checklist, faults),
        rewords: rewords(draft.rewords, checklist, faults),
        refuses: draft.refuses.into_iter().map(|words| words.value.to_lowercase()).collect(),
        turns,
    }
}

fn slip_words(drafts: Vec<SlipWordsDraft>, checklist: &Checklist, faults: &mut Faults) -> BTreeMap<SlipId, SlipWords> {
    let mut slips = BTreeMap::new();
    for words in drafts {
        short(&words.name, "name", MAX_NAME_LENGTH, faults);
        short(&words.look, "look", MAX_LOOK_FOR_LENGTH, faults);
        short(&words.help, "help", MAX_LOOK_FOR_LENGTH, faults);
        if checklist.slip(&words.id.value).is_none() {
            faults.push(words.id.fault(format!("there is no slip `{}`", words.id.value)));
        }
        let words_of = SlipWords { name: words.name.value, look: words.look.value, help: words.help.value };
        slips.insert(SlipId::new(words.id.value), words_of);
    }
    slips
}

fn rewords(
    drafts: Vec<RewordDraft>,
    checklist: &Checklist,
    faults: &mut Faults,
) -> BTreeMap<CheckpointId, BTreeMap<Instrument, Rewording>> {
    let mut rewords: BTreeMap<CheckpointId, BTreeMap<Instrument, Rewording>> = BTreeMap::new();
    for draft in drafts {
        let texts = [
            (&draft.look_for, "look-for", MAX_LOOK_FOR_LENGTH),
            (&draft.proof, "proof", MAX_PROOF_LENGTH),
            (&draft.cue, "cue", MAX_CUE_LENGTH),
        ];
        for (text, kind, most) in texts {
            if let Some(text) = text {
                short(text, kind, most, faults);
            }
        }
        let id = &draft.checkpoint;
        let known = checklist.checkpoint(&id.value).map(|checkpoint| &checkpoint.wording);
        let of = rewords.entry(CheckpointId::new(id.value.clone())).or_default();
        for on in instrument_set(&draft.instruments, faults) {
            if known.is_none_or(|wording| !wording.contains_key(&on)) {
                faults.push(id.fault(format!("`{}` has no wording for the {}", id.value, on.name())));
            }
            let text = |at: &Option<At<String>>| at.as_ref().map(|at| at.value.clone());
            let words = Rewording { look_for: text(&draft.look_for), proof: text(&draft.proof), cue: text(&draft.cue) };
            of.insert(on, words);
        }
    }
    rewords
}

/// Every placeholder in the texts is filled by some choice of that instrument, and the longest filling is short enough.
pub(super) fn texts(texts: &Texts, approach: &Approach, faults: &mut Faults) {
    for (text, kind, instrument) in texts {
        let most = match *kind {
            "cue" => MAX_CUE_LENGTH,
            "proof" => MAX_PROOF_LENGTH,
            _ => MAX_LOOK_FOR_LENGTH,
        };
        let mut long = text.value.chars().count();
        for (key, part) in placeholders(&text.value) {
            match longest(approach, key, part, *instrument) {
                Ok(words) => long = long + words - key.chars().count() - part.chars().count() - 3,
                Err(message) => faults.push(text.fault(message)),
            }
        }
        if long > most {
            faults.push(text.fault(format!("the {kind} has {long} characters; {most} is the most")));
        }
    }
}

fn longest(approach: &Approach, key: &str, part: &str, instrument: Instrument) -> Result<usize, String> {
    let choice = approach.choice(key).ok_or_else(|| format!("there is no choice `{key}` to fill this placeholder"))?;
    if !choice.instruments.contains(&instrument) {
        return Err(format!("the choice `{key}` is not about the {}", instrument.name()));
    }
    let words: Vec<usize> =
        choice.options.iter().filter_map(|option| Some(option.words.get(part)?.chars().count())).collect();
    if words.is_empty() {
        Err(format!("the choice `{key}` has no words `{part}`"))
    } else {
        Ok(words.into_iter().max().unwrap_or(0))
    }
}
