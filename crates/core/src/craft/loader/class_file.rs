//! What a class chose and changed, as one file: it can be carried to another class or school, read by people, and checked
//! before it is taken in.

use crate::craft::loader::fault::instrument_set;
use std::collections::{BTreeMap, BTreeSet};

use super::check_drawings;
use super::content::Content;
use super::entry::{Entry, File};
use super::fault::{At, Fault, Source};
use super::read_drawings;
use super::read_lessons::{self, WrittenDrill};
use super::write_drills;
use crate::craft::approach::Choices;
use crate::craft::checklist::Wording;
use crate::craft::edits::{Edits, OwnCheckpoint, Rewording};
use crate::craft::family_wording::{self, FamilyWording, Language, MAX_LANGUAGES};
use crate::craft::home::HomePhrase;
use crate::craft::id::{CheckpointId, StageId};
use crate::craft::instrument::Instrument;
use crate::figure::{FigureSpec, Setting};

/// The first line of every such file names its form.
pub const FORM: &str = "bright-row class checklist 1";

/// What a class chose and changed.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct ClassChecklist {
    /// The options it chose.
    pub choices: Choices,
    /// Its changes.
    pub edits: Edits,
}

/// Reads a class's file against the content it belongs to.
///
/// # Errors
/// Every [`Fault`] found, with its line; never an empty list.
pub fn read(source: Source<'_>, content: &Content) -> Result<ClassChecklist, Vec<Fault>> {
    let file = File::new(source);
    let table = file.parse();
    let root = file.root(&table);
    let mut reading = Reading {
        content,
        class: ClassChecklist::default(),
        places: BTreeMap::new(),
        drills: BTreeMap::new(),
        faults: Vec::new(),
    };
    reading.all(root);
    let Reading { class, places, drills, mut faults, .. } = reading;
    for (id, fault) in class.edits.drill_faults(content.template.shared(), &content.lessons) {
        let written = drills.get(&id);
        faults.push(written.map_or_else(
            || Fault { file: source.path.to_owned(), line: 1, message: fault.message.clone() },
            |written| written.fault(&fault),
        ));
    }
    for fault in class.edits.faults(content.template.shared()) {
        let line = places.get(&fault.checkpoint).copied().unwrap_or(1);
        faults.push(Fault {
            file: source.path.to_owned(),
            line,
            message: format!("{}: {}", fault.field, fault.message),
        });
    }
    faults.extend(file.into_faults());
    faults.sort();
    faults.dedup();
    if faults.is_empty() { Ok(class) } else { Err(faults) }
}

struct Reading<'a> {
    content: &'a Content,
    class: ClassChecklist,
    /// The line of each checkpoint, for faults found in the whole.
    places: BTreeMap<CheckpointId, usize>,
    /// Each drill as it is written, for the same.
    drills: BTreeMap<String, WrittenDrill>,
    faults: Vec<Fault>,
}

impl Reading<'_> {
    fn all(&mut self, root: Entry<'_, '_>) {
        match root.text("format") {
            Some(form) if form.value != FORM => {
                self.faults.push(form.fault(format!("this build reads `{FORM}`")));
            }
            _ => {}
        }
        for id in root.texts("off") {
            let known = self.id(&id);
            self.class.edits.off.insert(known);
        }
        if let Some(choices) = root.table("choices") {
            for (key, value) in choices.keys() {
                let Some(option) = choices.as_text(value, "choices") else { continue };
                if !self.content.approach.has(&key.value, &option.value) {
                    let message = format!("there is no choice `{}` with an option `{}`", key.value, option.value);
                    self.faults.push(key.fault(message));
                }
                self.class.choices.insert(key.value, option.value);
            }
        }
        for entry in root.tables("reword") {
            self.reword(entry);
        }
        for entry in root.tables("own") {
            self.own(entry);
        }
        self.class.edits.drills_off.extend(root.texts("drills_off").into_iter().map(|id| id.value));
        for entry in root.tables("drill") {
            let Some(written) = read_lessons::drill(entry, None, &mut self.faults) else { continue };
            let id = written.drill.id.clone();
            if self.class.edits.drills.insert(id.clone(), written.drill.clone()).is_some() {
                self.faults.push(written.id.fault(format!("`{id}` stands here twice; an id is used once")));
            }
            self.drills.insert(id, written);
        }
        for entry in root.tables("phrases") {
            self.phrases(entry);
        }
        root.finish();
    }

    /// What every card says in one more language.
    fn phrases(&mut self, entry: Entry<'_, '_>) {
        let language = entry.text("language");
        let line = |phrase: &HomePhrase| Some((*phrase, entry.text_if_any(phrase.word())?));
        let lines: Vec<(HomePhrase, At<String>)> = HomePhrase::ALL.iter().filter_map(line).collect();
        entry.finish();
        let Some(named) = language else { return };
        let language = match Language::parse(&named.value) {
            Ok(language) => language,
            Err(fault) => return self.faults.push(named.fault(fault.to_string())),
        };
        let of_language = FamilyWording::from([(
            language.clone(),
            lines.iter().map(|(phrase, text)| (*phrase, text.value.clone())).collect(),
        )]);
        for fault in family_wording::faults(&of_language) {
            let at = lines.iter().find(|(phrase, _)| fault.phrase == Some(*phrase)).map_or(&named, |(_, text)| text);
            self.faults.push(at.fault(fault.message));
        }
        let known = &mut self.class.edits.phrases;
        if known.len() == MAX_LANGUAGES && !known.contains_key(&language) {
            self.faults.push(named.fault(format!("a class words its cards in {MAX_LANGUAGES} languages at most")));
        } else if known.contains_key(&language) {
            self.faults.push(named.fault(format!("`{}` stands here twice; a language stands once", language.as_str())));
        } else {
            known.extend(of_language);
        }
    }

    fn id(&mut self, id: &At<String>) -> CheckpointId {
        let known = CheckpointId::new(id.value.clone());
        self.places.entry(known.clone()).or_insert(id.line);
        known
    }

    fn reword(&mut self, entry: Entry<'_, '_>) {
        let (id, on) = (entry.text("checkpoint"), entry.texts("on"));
        let [look_for, proof, cue] = ["look_for", "proof", "cue"].map(|key| entry.text_if_any(key).map(|at| at.value));
        entry.finish();
        let Some(id) = id else { return };
        let checkpoint = self.id(&id);
        let rewording = Rewording { look_for, proof, cue };
        if on.is_empty() || rewording.is_empty() {
            self.faults.push(id.fault("a rewording names instruments in `on` and at least one text"));
        }
        let instruments = instrument_set(&on, &mut self.faults);
        let known = self.class.edits.reworded.entry(checkpoint).or_default();
        known.extend(instruments.into_iter().map(|instrument| (instrument, rewording.clone())));
    }

    fn own(&mut self, entry: Entry<'_, '_>) {
        let (id, stage, name) = (entry.text("id"), entry.text("stage"), entry.text("name"));
        let seconds = entry.seconds();
        let (required, far, play) = (entry.flag("required"), entry.flag("far"), entry.flag("play"));
        let mut wording = BTreeMap::new();
        for (on, value) in entry.table("wording").map_or_else(Vec::new, |table| table.keys()) {
            let Some(texts) = entry.entry(value, &on.value) else { continue };
            let (look_for, proof, cue) = (texts.text("look_for"), texts.text_if_any("proof"), texts.text("cue"));
            texts.finish();
            let (Some(look_for), Some(cue)) = (look_for, cue) else { continue };
            let proof = proof.map_or_else(String::new, |proof| proof.value);
            let words = Wording { look_for: look_for.value, proof, cue: cue.value };
            for key in on.value.split_whitespace() {
                match Instrument::parse(key) {
                    Some(instrument) => drop(wording.insert(instrument, words.clone())),
                    None => self.faults.push(on.fault(format!("`{key}` is not one of vn, va, vc, db"))),
                }
            }
        }
        let figure = entry
            .table("figure")
            .and_then(|table| check_drawings::own(&read_drawings::figure(table), &mut self.faults));
        entry.finish();
        let (Some(id), Some(stage), Some(name)) = (id, stage, name) else { return };
        let checkpoint = self.id(&id);
        let stage = StageId::new(stage.value);
        let own =
            OwnCheckpoint { stage, name: name.value, seconds: seconds.value, required, far, play, wording, figure };
        if self.class.edits.own.insert(checkpoint, own).is_some() {
            self.faults.push(id.fault(format!("`{}` stands here twice; an id is used once", id.value)));
        }
    }
}

/// A class's file; reading it gives the same back.
#[must_use]
pub fn write(class: &ClassChecklist) -> String {
    let mut text = format!("format = {}\n", quoted(FORM));
    let off = class.edits.off.iter().map(|id| quoted(id.as_str())).collect::<Vec<_>>();
    if !off.is_empty() {
        text += &format!("off = [{}]\n", off.join(", "));
    }
    let drills_off = class.edits.drills_off.iter().map(|id| quoted(id)).collect::<Vec<_>>();
    if !drills_off.is_empty() {
        text += &format!("drills_off = [{}]\n", drills_off.join(", "));
    }
    if !class.choices.is_empty() {
        text += "\n[choices]\n";
        text.extend(class.choices.iter().map(|(key, option)| format!("{key} = {}\n", quoted(option))));
    }
    for (id, texts) in &class.edits.reworded {
        for (rewording, on) in alike(texts) {
            text +=
                &format!("\n[[reword]]\ncheckpoint = {}\non = [{}]\n", quoted(id.as_str()), keys(&on, ", ", quoted));
            let lines = [("look_for", &rewording.look_for), ("proof", &rewording.proof), ("cue", &rewording.cue)];
            for (key, line) in lines {
                text.extend(line.iter().map(|line| format!("{key} = {}\n", quoted(line))));
            }
        }
    }
    for (id, own) in &class.edits.own {
        text += &format!("\n[[own]]\nid = {}\nstage = {}\n", quoted(id.as_str()), quoted(own.stage.as_str()));
        text += &format!("name = {}\nseconds = {}\n", quoted(&own.name), own.seconds);
        for (key, flag) in [("required", own.required), ("far", own.far), ("play", own.play)] {
            text += if flag { key } else { continue };
            text += " = true\n";
        }
        text.extend(own.figure.as_ref().map(drawing));
        for (words, on) in alike(&own.wording) {
            text += &format!("[own.wording.{}]\n", quoted(&keys(&on, " ", str::to_owned)));
            text += &format!("look_for = {}\n", quoted(&words.look_for));
            text += &format!("proof = {}\ncue = {}\n", quoted(&words.proof), quoted(&words.cue));
        }
    }
    text.extend(class.edits.drills.values().map(write_drills::drill));
    for (language, lines) in &class.edits.phrases {
        text += &format!("\n[[phrases]]\nlanguage = {}\n", quoted(language.as_str()));
        text.extend(lines.iter().map(|(phrase, line)| format!("{} = {}\n", phrase.word(), quoted(line))));
    }
    text
}

fn drawing(figure: &FigureSpec) -> String {
    let set = figure.set.iter().map(|(name, to)| match to {
        Setting::Number(number) => format!("{name} = {number}"),
        Setting::Word(word) => format!("{name} = {}", quoted(word)),
    });
    let set: Vec<String> = set.collect();
    format!("figure = {{ view = {}, set = {{ {} }} }}\n", quoted(figure.view.word()), set.join(", "))
}

/// The different values with the instruments that share each.
pub(super) fn alike<T: PartialEq>(texts: &BTreeMap<Instrument, T>) -> Vec<(&T, BTreeSet<Instrument>)> {
    let mut groups: Vec<(&T, BTreeSet<Instrument>)> = Vec::new();
    for (instrument, words) in texts {
        match groups.iter_mut().find(|(known, _)| *known == words) {
            Some((_, on)) => drop(on.insert(*instrument)),
            None => groups.push((words, [*instrument].into())),
        }
    }
    groups
}

pub(super) fn keys(on: &BTreeSet<Instrument>, between: &str, each: impl Fn(&str) -> String) -> String {
    on.iter().map(|instrument| each(instrument.key())).collect::<Vec<_>>().join(between)
}

/// A text as a basic string of TOML.
pub(super) fn quoted(text: &str) -> String {
    let mut quoted = String::from("\"");
    for letter in text.chars() {
        match letter {
            '"' | '\\' => quoted.extend(['\\', letter]),
            letter if letter.is_control() => quoted += &format!("\\u{:04x}", u32::from(letter)),
            letter => quoted.push(letter),
        }
    }
    quoted + "\""
}
