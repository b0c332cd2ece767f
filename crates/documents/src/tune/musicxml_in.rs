//! A tune out of `MusicXML` (4.0 and before, partwise, compressed or not): the first voice of its first part.

use std::io::{Cursor, Read};

use bright_row_core::craft::pitch::midi_of;
use bright_row_core::craft::tune::{Key, Meter};
use quick_xml::events::Event;
use roxmltree::{Document, Node, ParsingOptions};

use super::incoming::Incoming;
use super::{LARGEST, LeftOut, ReadTune, TuneFileError};

/// The most elements of a score that are looked at: a tune of ours has some thousands.
const MAX_NODES: u32 = 200_000;

/// Elements within elements: a score has about ten.
const MAX_DEPTH: usize = 100;

/// The score in a compressed file (`.mxl`): the one that its container names, else the first.
pub(super) fn unpacked(bytes: &[u8]) -> Result<String, TuneFileError> {
    let mut zip = zip::ZipArchive::new(Cursor::new(bytes)).map_err(|_| TuneFileError::Broken)?;
    let container = zip.by_name("META-INF/container.xml").ok().map(contents).transpose()?;
    let named = container.and_then(|text| {
        let document = parsed(&text).ok()?;
        let root = document.descendants().find(|node| node.has_tag_name("rootfile"))?;
        root.attribute("full-path").map(str::to_owned)
    });
    let scores = zip.file_names().filter_map(Result::ok).map(std::borrow::Cow::into_owned);
    let scores = scores.filter(|name| !name.starts_with("META-INF/"));
    let first = scores.filter(|name| matches!(name.rsplit('.').next(), Some("xml" | "musicxml"))).min();
    let name = named.or(first).ok_or(TuneFileError::Unknown)?;
    contents(zip.by_name(&name).map_err(|_| TuneFileError::Broken)?)
}

fn contents(file: impl Read) -> Result<String, TuneFileError> {
    let limit = u64::try_from(LARGEST).unwrap_or(u64::MAX);
    let mut bytes = Vec::new();
    file.take(limit + 1).read_to_end(&mut bytes).map_err(|_| TuneFileError::Broken)?;
    if bytes.len() > LARGEST {
        return Err(TuneFileError::TooLarge);
    }
    Ok(super::text_of(&bytes))
}

/// Whether elements lie within each other no deeper than in any score: the parser goes down by calling itself.
fn is_flat(text: &str) -> bool {
    let mut reader = quick_xml::Reader::from_str(text);
    let mut depth = 0_usize;
    loop {
        match reader.read_event() {
            Ok(Event::Start(_)) => depth += 1,
            Ok(Event::End(_)) => depth = depth.saturating_sub(1),
            // Entities of a file's own could hold elements within elements too; no notation program writes any.
            Ok(Event::DocType(kind)) if kind.contains('[') => return false,
            Ok(Event::Eof) => return true,
            Err(_) => return false,
            Ok(_) => {}
        }
        if depth > MAX_DEPTH {
            return false;
        }
    }
}

fn parsed(text: &str) -> Result<Document<'_>, TuneFileError> {
    if !is_flat(text) {
        return Err(TuneFileError::Broken);
    }
    // Scores name the document type of the format; nothing is fetched for it, and entities are counted.
    let options = ParsingOptions { allow_dtd: true, nodes_limit: MAX_NODES };
    Document::parse_with_options(text, options).map_err(|error| match error {
        roxmltree::Error::NodesLimitReached => TuneFileError::TooLarge,
        _ => TuneFileError::Broken,
    })
}

/// The words of an element below a node.
fn words<'a>(node: Node<'a, '_>, name: &str) -> Option<&'a str> {
    node.children().find(|child| child.has_tag_name(name))?.text().map(str::trim)
}

pub(super) fn read(text: &str) -> Result<ReadTune, TuneFileError> {
    let document = parsed(text)?;
    let score = document.root_element();
    match score.tag_name().name() {
        "score-partwise" => {}
        "score-timewise" => return Err(TuneFileError::Timewise),
        _ => return Err(TuneFileError::Unknown),
    }
    let mut parts = score.children().filter(|node| node.has_tag_name("part"));
    let part = parts.next().ok_or(TuneFileError::Unknown)?;
    let mut reader = Reader { tune: Incoming::default(), divisions: 1, octave_shift: 0, voice: None };
    if parts.next().is_some() {
        reader.tune.left_out.insert(LeftOut::Voices);
    }
    let work = score.children().find(|node| node.has_tag_name("work"));
    let title = work.and_then(|work| words(work, "work-title")).or_else(|| words(score, "movement-title"));
    title.unwrap_or_default().clone_into(&mut reader.tune.name);
    for measure in part.children().filter(|node| node.has_tag_name("measure")) {
        for node in measure.children().filter(Node::is_element) {
            reader.element(node)?;
        }
        reader.tune.bar_line();
    }
    reader.tune.finish()
}

struct Reader<'a> {
    tune: Incoming,
    /// Of a quarter.
    divisions: u32,
    /// Semitones between what is written and what sounds.
    octave_shift: i32,
    /// The voice that is read: that of the first note.
    voice: Option<&'a str>,
}

impl<'a> Reader<'a> {
    fn element(&mut self, node: Node<'a, '_>) -> Result<(), TuneFileError> {
        match node.tag_name().name() {
            "attributes" => self.attributes(node)?,
            "note" => self.note(node)?,
            "direction" | "sound" => self.tempo(node),
            "barline" if node.children().any(|child| child.has_tag_name("repeat")) => {
                self.tune.left_out.insert(LeftOut::Repeats);
            }
            // Back to the beginning of the bar for another voice, whose notes are passed over.
            _ => {}
        }
        Ok(())
    }

    fn attributes(&mut self, node: Node<'_, '_>) -> Result<(), TuneFileError> {
        let bar = self.tune.bar();
        let number = |node: Node<'_, '_>, name| words(node, name).and_then(|text| text.parse::<i32>().ok());
        for child in node.children() {
            match child.tag_name().name() {
                "divisions" => {
                    let divisions = child.text().and_then(|text| text.trim().parse().ok());
                    self.divisions = divisions.filter(|divisions| (1..=100_000).contains(divisions)).unwrap_or(1);
                }
                "key" => {
                    let sharps =
                        number(child, "fifths").and_then(|fifths| i8::try_from(fifths).ok()).unwrap_or_default();
                    let key = Key { sharps: sharps.clamp(-7, 7), minor: words(child, "mode") == Some("minor") };
                    if self.tune.key.replace(key).is_some_and(|before| before.sharps != key.sharps) {
                        return Err(TuneFileError::Changes("key", bar));
                    }
                }
                "time" => {
                    let of = |name| words(child, name).unwrap_or_default();
                    let meter = Meter::parse(&format!("{}/{}", of("beats"), of("beat-type")))?;
                    if self.tune.meter.replace(meter).is_some_and(|before| before != meter) {
                        return Err(TuneFileError::Changes("meter", bar));
                    }
                }
                "transpose" => {
                    let octaves = number(child, "octave-change").unwrap_or_default().clamp(-4, 4);
                    self.octave_shift = number(child, "chromatic").unwrap_or_default().clamp(-48, 48) + 12 * octaves;
                }
                _ => {}
            }
        }
        Ok(())
    }

    /// The first tempo that is said: in quarters for players, in beats on the page.
    fn tempo(&mut self, node: Node<'_, '_>) {
        if self.tune.tempo.is_some() {
            return;
        }
        let sound = node.descendants().find_map(|node| node.attribute("tempo").filter(|_| node.has_tag_name("sound")));
        let quarters = sound.and_then(|tempo| tempo.parse::<f64>().ok()).filter(|tempo| (1.0..1_000.0).contains(tempo));
        let beat = self.tune.meter.map_or(2, Meter::beat_eighths);
        // Within the bounds just above.
        #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss, clippy::as_conversions)]
        let beats = quarters.map(|quarters| (quarters * 2.0 / f64::from(beat)).round() as u32);
        self.tune.tempo = beats;
    }

    fn note(&mut self, node: Node<'a, '_>) -> Result<(), TuneFileError> {
        let has = |name: &str| node.children().any(|child| child.has_tag_name(name));
        if has("grace") || has("cue") {
            self.tune.left_out.insert(LeftOut::Grace);
            return Ok(());
        }
        let voice = words(node, "voice").unwrap_or("1");
        if *self.voice.get_or_insert(voice) != voice {
            self.tune.left_out.insert(LeftOut::Voices);
            return Ok(());
        }
        if has("chord") {
            self.tune.left_out.insert(LeftOut::Chords);
            return Ok(());
        }
        let bar = self.tune.bar();
        let duration = words(node, "duration").and_then(|text| text.parse::<u32>().ok());
        let duration =
            duration.filter(|duration| (1..=1_000_000).contains(duration)).ok_or(TuneFileError::Short(bar))?;
        if duration * 2 % self.divisions != 0 {
            return Err(TuneFileError::Short(bar));
        }
        let ties = node.children().any(|tie| tie.has_tag_name("tie") && tie.attribute("type") == Some("start"));
        let pitch = node.children().find(|child| child.has_tag_name("pitch"));
        let midi = pitch.map(|pitch| self.sounding(pitch, bar)).transpose()?;
        self.tune.note(midi, duration * 2 / self.divisions, ties)
    }

    fn sounding(&self, pitch: Node<'_, '_>, bar: usize) -> Result<u8, TuneFileError> {
        let alter: f64 = words(pitch, "alter").map_or(Ok(0.0), str::parse).map_err(|_| TuneFileError::Broken)?;
        if alter.fract() != 0.0 || !(-3.0..=3.0).contains(&alter) {
            return Err(TuneFileError::Between(bar));
        }
        let octave = words(pitch, "octave").filter(|text| matches!(text.as_bytes(), [b'0'..=b'9']));
        let step = words(pitch, "step").filter(|text| matches!(text.as_bytes(), [b'A'..=b'G']));
        let natural = step.zip(octave).and_then(|(step, octave)| midi_of(&format!("{step}{octave}")));
        // A whole number between -3 and 3.
        #[allow(clippy::cast_possible_truncation, clippy::as_conversions)]
        let midi = i32::from(natural.ok_or(TuneFileError::Broken)?) + alter as i32 + self.octave_shift;
        u8::try_from(midi).map_err(|_| TuneFileError::NoMusic(bar, format!("a note {midi} semitones high")))
    }
}
