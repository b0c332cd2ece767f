//! Tunes out as scores, MIDI and sound, and in from what notation programs and people write.

#[path = "support/tunes.rs"]
mod tunes;

use bright_row_core::craft::instrument::Instrument;
use bright_row_core::craft::pitch::A4_MIDI;
use bright_row_core::craft::tune::{Key, Tune, TuneNote};
use bright_row_documents::tune::musicxml::{packed, score};
use bright_row_documents::tune::{LeftOut, ReadTune, midi, read, sound};
use midly::{MetaMessage, MidiMessage, Smf, TrackEventKind};
use proptest::prelude::*;
use tunes::{built, content, parts};

fn read_text(text: &str) -> Result<ReadTune, String> {
    read(text.as_bytes()).map_err(|error| error.to_string())
}

fn abc(music: &str) -> Result<ReadTune, String> {
    read_text(&format!("X:1\nT:The fox\nM:4/4\nL:1/4\nK:D\n{music}\n"))
}

/// The notes of a tune that was read, as text.
fn notes(read: Result<ReadTune, String>) -> String {
    read.map_or_else(|error| error, |read| read.tune.text())
}

#[test]
fn upbeat_minor_and_tempo_stand_in_the_score() {
    let content = content();
    let tune = Tune {
        key: Key { sharps: 1, minor: true },
        tempo: Some(60),
        ..built("B3:1 | E4:3 G4:3 | F#4:1 E4:1 D#4:1 E4:3", "6/8")
    };
    let xml = score(&tune, &parts(content, &tune)[..1]);
    for wanted in [
        "<measure number=\"0\" implicit=\"yes\">",
        "<measure number=\"1\">",
        "<fifths>1</fifths><mode>minor</mode>",
        "<beat-unit>quarter</beat-unit><beat-unit-dot/><per-minute>60</per-minute>",
        "<sound tempo=\"90\"/>",
        "<step>D</step><alter>1</alter>",
    ] {
        assert!(xml.contains(wanted), "{wanted} in {xml}");
    }
    assert_eq!(xml.matches("<attributes>").count(), 1);
    assert_eq!(xml.matches("light-heavy").count(), 1);
    assert!(xml.find("light-heavy") > xml.find("<measure number=\"2\">"));
}

#[test]
fn a_note_in_another_octave_than_the_rest_is_marked_where_it_stands() {
    let content = content();
    let tune = built("G3 A3 B3 D4 | E5 F#5 G5 A5 | D6 E6 D6 A5", "4/4");
    let parts = parts(content, &tune);
    for (instrument, part) in &parts {
        let folded = part.notes.iter().filter(|placed| placed.folded != 0).count();
        let xml = score(&tune, &[(*instrument, part.clone())]);
        let marks = xml.matches("<words font-size=\"8\">").count();
        assert_eq!(marks, folded, "{instrument:?}");
        assert!(folded > 0 || *instrument != Instrument::Bass);
    }
}

#[test]
fn every_shipped_tune_comes_back_from_musicxml_plain_and_packed() {
    let content = content();
    for tune in &content.tunes {
        let xml = score(tune, &parts(content, tune));
        for bytes in [xml.clone().into_bytes(), packed(&xml), utf16(&xml)] {
            let found = read(&bytes).expect("it is read back");
            // The first part is the violin's, which plays all of them where they are.
            let same = Tune { id: tune.id.clone(), ..found.tune };
            assert_eq!(&same, tune);
            assert_eq!(found.left_out, [LeftOut::Voices]);
        }
    }
}

fn utf16(text: &str) -> Vec<u8> {
    [0xfeff].into_iter().chain(text.encode_utf16()).flat_map(u16::to_le_bytes).collect()
}

/// One bar of a score around some notes.
fn xml(notes: &str) -> String {
    format!(
        "<?xml version=\"1.0\"?><!DOCTYPE score-partwise PUBLIC \"-//Recordare//DTD MusicXML 3.1 Partwise//EN\" \
         \"partwise.dtd\"><score-partwise><movement-title> The  fox </movement-title><part-list/><part id=\"P1\">\
         <measure number=\"1\"><attributes><divisions>4</divisions><key><fifths>-1</fifths></key><time><beats>2</beats>\
         <beat-type>4</beat-type></time></attributes>{notes}</measure></part></score-partwise>"
    )
}

fn xml_note(step: &str, duration: u32, more: &str) -> String {
    format!("<note>{more}<pitch><step>{step}</step><octave>4</octave></pitch><duration>{duration}</duration></note>")
}

#[test]
fn what_of_a_score_is_not_taken_is_said_and_what_cannot_be_is_refused_with_its_bar() {
    let two = format!("{}{}", xml_note("C", 4, ""), xml_note("D", 4, ""));
    let read = read_text(&xml(&two)).expect("a tune");
    assert_eq!((read.tune.name.as_str(), read.tune.text().as_str(), read.tune.key.sharps), ("The fox", "C4 D4", -1));
    assert_eq!(read.left_out, []);
    let more = format!(
        "{}{}{}<backup><duration>8</duration></backup>{}<barline><repeat direction=\"backward\"/></barline>",
        xml_note("E", 4, "<grace/>").replace("<duration>4</duration>", ""),
        two,
        xml_note("F", 4, "<chord/>"),
        xml_note("G", 8, "").replace("</note>", "<voice>2</voice></note>"),
    );
    let read = read_text(&xml(&more)).expect("a tune");
    assert_eq!(read.tune.text(), "C4 D4");
    assert_eq!(read.left_out, [LeftOut::Voices, LeftOut::Chords, LeftOut::Grace, LeftOut::Repeats]);
    let refused = |notes: &str| notes_of(&xml(notes));
    assert!(refused(&xml_note("C", 1, "")).starts_with("Bar 1 has a note that is no whole number of eighths"));
    assert!(refused(&xml_note("C", 0, "")).starts_with("Bar 1 has a note"));
    assert!(refused(&format!("{two}{two}")).starts_with("Bar 1 has 8 eighths instead of 4"));
    let between = xml_note("C", 4, "").replace("<octave>", "<alter>0.5</alter><octave>");
    assert!(refused(&between).starts_with("Bar 1 has a note that stands between"));
    assert!(notes_of("<score-timewise/>").contains("part by part"));
    assert_eq!(notes_of("<html/>"), "This is neither MusicXML nor ABC");
    assert_eq!(notes_of("<score-partwise><part>"), "The file cannot be opened: export it anew");
    assert!(notes_of(&xml(&two).replace("-1", "5")).starts_with("Its key has 5 sharps"));
    assert!(notes_of(&xml(&two).replace("<beats>2", "<beats>5")).starts_with("“5/4” is no meter"));
}

fn notes_of(text: &str) -> String {
    notes(read_text(text))
}

#[test]
fn abc_is_read_with_its_key_lengths_octaves_and_accidentals() {
    for (music, expected) in [
        ("D E F G | A B c d |", "D4 E4 F#4 G4 | A4 B4 C#5 D5"),
        ("A | d2 c B | A4 |", "A4 | D5:4 C#5 B4 | A4:8"),
        ("D/2E/2 F/ G/ A z |", "D4:1 E4:1 F#4:1 G4:1 A4 -"),
        ("D>E F<G |", "D4:3 E4:1 F#4:1 G4:3"),
        ("=F ^F F =c | F c ^^G _B |", "F4 F#4 F#4 C5 | F#4 C#5 A4 A#4"),
        ("D, d' D2- | D4 |", "D3 D6 D4:4 | _:8"),
        ("D2- D2 | \"Am\"!f!E2 ~F2 |", "D4:8 | E4:4 F#4:4"),
        ("|: D E F G :| [K:D] A4 |]", "D4 E4 F#4 G4 | A4:8"),
        ("D E F G | % a word\nw: la la\nA4 |", "D4 E4 F#4 G4 | A4:8"),
        ("(D E) [FA]2 {g}", "D4 E4 F#4:4"),
        ("|: D E F G |\nA:|", "D4 E4 F#4 G4 | A4"),
    ] {
        assert_eq!(notes(abc(music)), expected, "{music}");
    }
    let read = abc("|: D2 [FA]2 :| {g}D4 |1 D4 |]").expect("a tune");
    assert_eq!(read.left_out, [LeftOut::Chords, LeftOut::Grace, LeftOut::Repeats]);
    let two = "X:1\nT:One\nK:G\nG4 |\nV:2\nB4 |\n\nX:2\nT:Two\nK:D\nD4|\n";
    let read = read_text(two).expect("a tune");
    assert_eq!((read.tune.name.as_str(), read.tune.key.sharps), ("One", 1));
    assert_eq!(read.left_out, [LeftOut::Tunes]);
    let six = read_text("X:1\nT:Six\nM:6/8\nQ:3/8=60\nK:Em\nB | E2 G B2 ^d | e3- e2 |\n").expect("a tune");
    assert_eq!((six.tune.text().as_str(), six.tune.tempo), ("B4:1 | E4 G4:1 B4 D#5:1 | E5:4 _:1", Some(60)));
    assert!(six.tune.key.minor);
}

#[test]
fn abc_that_cannot_be_is_refused_with_its_bar() {
    for (music, expected) in [
        ("D E F G | A/4 B c d |", "Bar 2 has a note that is no whole number of eighths"),
        ("D E F G | (3ABc d2 |", "Bar 2 has a note that is no whole number"),
        ("D E F G | & A |", "Bar 2 has “& A |”, which cannot be read"),
        ("D E F G | A B | c d e f |", "Bar 2 has 4 eighths instead of 8"),
        ("D E F G |\nK:G\nA4 |", "The key changes in bar 2"),
        ("z4 |", "A tune has at least one note"),
    ] {
        assert!(notes(abc(music)).starts_with(expected), "{music}: {}", notes(abc(music)));
    }
    assert_eq!(notes_of("Dear all,\nthe concert is on Friday: come at 6.\n"), "This is neither MusicXML nor ABC");
    assert_eq!(notes_of(""), "This is neither MusicXML nor ABC");
    assert!(notes(abc(&"D E F G |".repeat(30))).starts_with("A tune has at most 96 notes"));
    assert!(notes_of("X:1\nM:7/8\nK:D\nD4|\n").starts_with("“7/8” is no meter"));
}

#[test]
fn a_midi_file_has_every_note_in_its_time() {
    let content = content();
    let tune = Tune { tempo: Some(60), ..built("D4 F#4 - A4:1 A4:1 | D5:8", "4/4") };
    let bytes = midi::file(&tune, &parts(content, &tune));
    let smf = Smf::parse(&bytes).expect("a MIDI file");
    assert_eq!(smf.tracks.len(), 5);
    let tempo = smf.tracks[0].iter().find_map(|event| match event.kind {
        TrackEventKind::Meta(MetaMessage::Tempo(tempo)) => Some(tempo.as_int()),
        _ => None,
    });
    assert_eq!(tempo, Some(1_000_000));
    for (track, (instrument, part)) in smf.tracks[1..].iter().zip(parts(content, &tune)) {
        let (mut at, mut begins, mut sounding) = (0, Vec::new(), None);
        for event in track {
            at += event.delta.as_int();
            match event.kind {
                TrackEventKind::Midi { message: MidiMessage::NoteOn { key, .. }, .. } => {
                    assert!(sounding.replace(key).is_none(), "one note at a time");
                    begins.push((at, key.as_int()));
                }
                TrackEventKind::Midi { message: MidiMessage::NoteOff { key, .. }, .. } => {
                    assert_eq!(sounding.take(), Some(key));
                }
                _ => {}
            }
        }
        let times: Vec<u32> = begins.iter().map(|(at, _)| *at).collect();
        assert_eq!(times, [0, 480, 1_440, 1_680, 1_920], "{instrument:?}");
        assert_eq!(at, 1_920 + 4 * 480, "the last note is held to its end");
        let wanted: Vec<u8> = part.notes.iter().filter_map(|placed| placed.fingering.map(|way| way.midi)).collect();
        assert_eq!(begins.iter().map(|(_, key)| *key).collect::<Vec<_>>(), wanted);
    }
}

#[test]
fn a_tune_is_heard_as_long_as_it_lasts_and_at_its_pitch() {
    let content = content();
    let tune = Tune { tempo: Some(120), ..built("A4 A4 - A4", "4/4") };
    let part = parts(content, &tune).remove(0);
    let hz = |midi: u8| 442.0 * ((f64::from(midi) - f64::from(A4_MIDI)) / 12.0).exp2();
    let bytes = sound::wav(&tune, &part, |way| hz(way.midi)).expect("a sound");
    let mut reader = hound::WavReader::new(bytes.as_slice()).expect("WAV");
    let spec = reader.spec();
    assert_eq!((spec.channels, spec.bits_per_sample, spec.sample_rate), (1, 16, 22_050));
    let samples: Vec<i16> = reader.samples().collect::<Result<_, _>>().expect("samples");
    let seconds = f64::from(u32::try_from(samples.len()).expect("short")) / 22_050.0;
    assert!((seconds - 2.2).abs() < 0.01, "{seconds}");
    let rest = &samples[(22_050 * 6 / 5 + 200)..(22_050 * 17 / 10 - 200)];
    assert!(rest.iter().all(|sample| sample.abs() < 50), "nothing sounds in a rest");
    // Once around in so many samples: what comes again most alike.
    let note = &samples[8_000..14_000];
    let alike = |lag: usize| -> f64 { note.iter().zip(&note[lag..]).map(|(a, b)| f64::from(*a) * f64::from(*b)).sum() };
    let lag = (40..60).max_by(|a, b| alike(*a).total_cmp(&alike(*b))).expect("one");
    assert_eq!(lag, 50, "22,050 / 442 is 49.9");
    let slow = Tune { tempo: Some(30), ..built(&"D4:8 ".repeat(60), "4/4") };
    let part = parts(content, &slow).remove(0);
    assert!(sound::wav(&slow, &part, |way| hz(way.midi)).expect_err("too long").to_string().contains("faster tempo"));
}

proptest! {
    #[test]
    fn no_text_makes_a_reader_of_tunes_fall(text in "[A-Ga-gzKLMQVTX:0-9/|<>\\[\\](){}\"^_=,'\\n -]{0,160}") {
        let _ = read(text.as_bytes());
        let _ = abc(&text);
    }

    #[test]
    fn any_tune_comes_back_from_its_score(
        notes in prop::collection::vec((prop::option::of(55..=83_u8), 1..=12_u8), 1..40),
        beats in prop::sample::select(vec!["2/4", "3/4", "4/4", "6/8"]),
        sharps in -3..=4_i8,
        minor in any::<bool>(),
    ) {
        prop_assume!(notes.iter().any(|(midi, _)| midi.is_some()));
        let content = content();
        let notes: Vec<TuneNote> = notes.into_iter().map(|(midi, eighths)| TuneNote { midi, eighths }).collect();
        let tune = Tune { key: Key { sharps, minor }, notes, name: "Made up".to_owned(), ..built("D4", beats) };
        let violin = parts(content, &tune).remove(0);
        let sounding: Vec<Option<u8>> = violin.1.notes.iter().map(|placed| placed.fingering.map(|way| way.midi).or(placed.midi)).collect();
        let found = read(score(&tune, &[violin]).as_bytes()).expect("it is read back").tune;
        // Rests that follow each other are counted together: a score divides them at bar lines.
        let together = |notes: &[(Option<u8>, u32)]| {
            let mut all: Vec<(Option<u8>, u32)> = Vec::new();
            for (midi, eighths) in notes {
                match all.last_mut() {
                    Some((None, rest)) if midi.is_none() => *rest += eighths,
                    _ => all.push((*midi, *eighths)),
                }
            }
            all
        };
        let wanted: Vec<(Option<u8>, u32)> = sounding.iter().zip(&tune.notes).map(|(midi, note)| (*midi, u32::from(note.eighths))).collect();
        let came: Vec<(Option<u8>, u32)> = found.notes.iter().map(|note| (note.midi, u32::from(note.eighths))).collect();
        prop_assert_eq!(together(&came), together(&wanted));
        prop_assert_eq!((found.key, found.meter), (tune.key, tune.meter));
    }
}
