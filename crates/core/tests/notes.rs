//! The first notes on the four instruments.

mod support;

use bright_row_core::craft::instrument::Instrument;
use bright_row_core::craft::pitch::{name, note_name};
use bright_row_core::craft::tune::TuneNote;
use bright_row_core::craft::tune::{Key, Line, Meter, TEMPO, Tune, bars, line, tempo};
use bright_row_core::lessons::notes::{
    FIRST_NOTES, Fingering, PlacedNote, Stop, fingerings, fingers_of, first_position, open_instead, part,
};
use bright_row_core::tapes::finger::Finger;
use proptest::prelude::*;
use support::content;

#[test]
fn the_first_notes_bear_the_same_names_with_each_instruments_own_finger() {
    let content = content();
    let lines = FIRST_NOTES.map(|note| {
        let made = Instrument::ALL.map(|instrument| {
            let (called, stop) = note.on(&content.instruments[&instrument]).expect("in first position");
            let finger = match stop {
                Stop::Finger(finger) => finger.spoken().to_owned(),
                Stop::Open(string) => format!("open {string}"),
            };
            (called, finger)
        });
        assert!(made.iter().all(|(called, _)| *called == made[0].0), "one name");
        let fingers: Vec<&str> = made.iter().map(|(_, finger)| finger.as_str()).collect();
        format!("{} on {}: {}", made[0].0, note.string, fingers.join(", "))
    });
    assert_eq!(
        lines,
        [
            "E on D: 1, 1, 1, 1",
            "F sharp on D: 2, 2, 3, 4",
            "G on D: 3, 3, 4, open G",
            "B on A: 1, 1, 1, 1",
            "C sharp on A: 2, 2, 3, 4",
            "D on A: 3, 3, 4, open D",
        ]
    );
}

#[test]
fn every_plain_finger_stops_another_note_and_names_repeat_with_the_octave() {
    for instrument in Instrument::ALL {
        let plain = Finger::of(instrument).iter().filter(|finger| finger.id().len() == 1);
        let mut semitones: Vec<u8> = plain.filter_map(|finger| finger.semitones(instrument)).collect();
        assert!(semitones.is_sorted());
        semitones.dedup();
        assert_eq!(semitones.len(), if instrument == Instrument::Bass { 3 } else { 4 });
    }
    for midi in 0..=115_u8 {
        assert_eq!(name(midi), name(midi + 12));
    }
    assert_eq!(note_name(54), "F#3");
}

/// `D2 F#4`: the string and finger of each note; `open D`; `-` where it is not in first position.
fn played(instrument: Instrument, text: &str) -> String {
    let facts = &content().instruments[&instrument];
    let tune = line(text, 8).expect("a tune").notes;
    let part = part(facts, &tune);
    let letter = |string: usize| facts.strings[string].note.chars().next().expect("a letter");
    let word = |placed: &PlacedNote| match placed.fingering {
        None => "-".to_owned(),
        Some(Fingering { string, finger: None, .. }) => letter(string).to_string(),
        Some(Fingering { string, finger: Some(finger), .. }) => format!("{}{}", letter(string), finger.id()),
    };
    part.notes.iter().map(word).collect::<Vec<_>>().join(" ")
}

#[test]
fn a_tune_is_played_by_all_four_in_their_own_octave() {
    let scale = "D4 E4 F#4 G4 A4 B4 C#5 D5";
    assert_eq!(played(Instrument::Violin, scale), "D D1 D2 D3 A A1 A2 A3");
    assert_eq!(played(Instrument::Viola, scale), "D D1 D2 D3 A A1 A2 A3");
    assert_eq!(played(Instrument::Cello, scale), "D D1 D3 D4 A A1 A3 A4");
    // In first position the bass goes no further than B on its highest string: the last two are folded down.
    assert_eq!(played(Instrument::Bass, scale), "D D1 D4 G G1 G4 A4 D");
    assert_eq!(played(Instrument::Bass, "D4 Eb4 D4"), "D - D");
    assert_eq!(played(Instrument::Bass, "D3 E3 F#3 G3 A3 B3"), "D D1 D4 G G1 G4");
    assert_eq!(played(Instrument::Violin, "F4 Bb4 C5"), "Dlow2 Alow1 Alow2");
    // Of two octaves the one with plain fingers.
    assert_eq!(played(Instrument::Violin, "C3"), "G3");
    assert_eq!(played(Instrument::Violin, "D4 - D4"), "D - D");
}

#[test]
fn a_tune_moves_as_a_whole_and_says_by_how_many_octaves() {
    let part_on = |instrument| {
        let tune = line("D4 F#4 A4", 8).expect("a tune").notes;
        let part = part(&content().instruments[&instrument], &tune);
        (part.octaves, part.missing, fingers_of(&part).into_iter().map(Finger::id).collect::<Vec<_>>().join(" "))
    };
    assert_eq!(part_on(Instrument::Violin), (0, 0, "2".to_owned()));
    assert_eq!(part_on(Instrument::Cello), (-1, 0, "3".to_owned()));
    assert_eq!(part_on(Instrument::Bass), (-2, 0, "1 4".to_owned()));
}

#[test]
fn the_octave_asked_is_kept_wherever_first_position_has_it_with_low_and_high_fingers() {
    // F natural and B flat are low fingers, G sharp on D a high third: none of them sends the tune an octave away.
    assert_eq!(played(Instrument::Violin, "F4 G#4 Bb4"), "Dlow2 Dhigh3 Alow1");
    assert_eq!(played(Instrument::Cello, "Eb3 A3 D4"), "Dlow1 A A4");
    let how = |instrument, text: &str| {
        let part = part(&content().instruments[&instrument], &line(text, 8).expect("a tune").notes);
        (part.octaves, part.folded, part.moved())
    };
    assert_eq!(how(Instrument::Violin, "F4 G#4 Bb4"), (0, 0, None));
    assert_eq!(how(Instrument::Cello, "D4 C4 A3"), (0, 0, None), "high on the A string, and there");
    assert_eq!(how(Instrument::Cello, "D4 E4 F#4"), (-1, 0, Some("an octave lower".to_owned())));
    assert_eq!(how(Instrument::Bass, "D4 E4 F#4"), (-2, 0, Some("two octaves lower".to_owned())));
    // The whole tune first; only then single notes.
    let (octaves, folded, moved) = how(Instrument::Bass, "D4 E4 D5 D5");
    assert_eq!((octaves, folded), (-2, 2));
    assert_eq!(moved.as_deref(), Some("two octaves lower, 2 notes an octave lower than the rest"));
}

#[test]
fn an_open_string_stands_in_for_a_note_that_is_not_ready() {
    let instead = |note: &str| {
        let midi = bright_row_core::craft::pitch::midi_of(note).expect("a note");
        open_instead(&content().instruments[&Instrument::Violin], midi).map(|open| open.note.clone())
    };
    assert_eq!(instead("D5").as_deref(), Some("D4"));
    assert_eq!(instead("B4").as_deref(), Some("E5"));
    assert_eq!(instead("F#4").as_deref(), Some("D4"));
}

#[test]
fn a_text_that_is_no_tune_is_refused_with_its_word() {
    let fault = |text: &str| line(text, 8).expect_err("refused").to_string();
    assert_eq!(fault("- -:4"), "A tune has at least one note, such as D4.");
    assert_eq!(fault(""), "A tune has at least one note, such as D4.");
    assert!(fault("D4 H4").starts_with("“H4” is no note"));
    assert!(fault("D4:9").starts_with("“D4:9” is no note"));
    assert!(fault("D9").starts_with("“D9” is no note"));
    assert_eq!(fault("D4:8 | D4 D4 | D4:8"), "Bar 2 has 4 eighths instead of 8.");
    assert_eq!(fault("D4:8 D4 | D4:8"), "Bar 1 has 10 eighths instead of 8.");
    assert_eq!(fault(&"D4 ".repeat(97)), "A tune has at most 96 notes.");
}

#[test]
fn the_shipped_tunes_are_whole_and_the_high_strings_play_all_of_them() {
    let content = content();
    assert!(content.tunes.len() >= 6);
    for tune in &content.tunes {
        for instrument in [Instrument::Violin, Instrument::Viola] {
            assert_eq!(
                part(&content.instruments[&instrument], &tune.notes).missing,
                0,
                "{} on {instrument:?}",
                tune.id
            );
        }
        for bar in bars(tune) {
            let eighths: u8 = bar.iter().map(|(_, eighths, _)| eighths).sum();
            assert_eq!(eighths, tune.meter.eighths(), "{}", tune.id);
        }
    }
}

proptest! {
    #[test]
    fn every_way_to_a_note_sounds_that_note(midi in 20..100_u8, on in 0..4_usize) {
        let facts = content().instruments[&Instrument::ALL[on]].clone();
        let (least, most) = first_position(&facts);
        let ways = fingerings(&facts, midi);
        for way in &ways {
            let open = facts.strings[way.string].midi;
            let semitones = way.finger.map_or(Some(0), |finger| finger.semitones(facts.instrument));
            prop_assert_eq!(semitones.map(|semitones| open + semitones), Some(midi));
        }
        prop_assert!(ways.is_empty() || (least..=most).contains(&midi));
    }

    #[test]
    fn what_lies_in_first_position_as_it_was_asked_is_never_moved(
        picks in prop::collection::vec(any::<prop::sample::Index>(), 1..20), on in 0..4_usize,
    ) {
        let facts = content().instruments[&Instrument::ALL[on]].clone();
        let there: Vec<u8> = (20..100).filter(|midi| !fingerings(&facts, *midi).is_empty()).collect();
        let tune: Vec<TuneNote> =
            picks.iter().map(|pick| TuneNote { midi: Some(*pick.get(&there)), eighths: 2 }).collect();
        let kept = part(&facts, &tune);
        prop_assert_eq!((kept.octaves, kept.folded, kept.missing, kept.moved()), (0, 0, 0, None));
    }

    #[test]
    fn a_note_is_missing_only_where_no_octave_has_it_and_folding_keeps_its_name(pitches in prop::collection::vec(40..80_u8, 1..20), on in 0..4_usize) {
        let facts = content().instruments[&Instrument::ALL[on]].clone();
        let tune: Vec<TuneNote> = pitches.iter().map(|midi| TuneNote { midi: Some(*midi), eighths: 2 }).collect();
        let taken = part(&facts, &tune);
        prop_assert_eq!(taken.notes.len(), pitches.len());
        for (midi, placed) in pitches.iter().zip(&taken.notes) {
            match placed.fingering {
                Some(way) => prop_assert_eq!(way.midi % 12, midi % 12),
                None => prop_assert!((0..10).all(|octave| fingerings(&facts, midi % 12 + 12 * octave).is_empty())),
            }
        }
    }

    #[test]
    fn bars_are_full_and_hold_every_note_once(
        lengths in prop::collection::vec(1..=8_u8, 1..30),
        beats in prop::sample::select(vec![4_u8, 6, 8]),
        pickup in 0..4_u8,
    ) {
        let notes: Vec<TuneNote> = lengths.iter().map(|eighths| TuneNote { midi: Some(62), eighths: *eighths }).collect();
        let tune = tune_of(notes, Meter { beats, unit: 8 }, pickup, 0);
        let bars = bars(&tune);
        let mut heard = vec![0_u8; lengths.len()];
        for (number, bar) in bars.iter().enumerate() {
            let eighths: u8 = bar.iter().map(|(_, eighths, _)| eighths).sum();
            let whole = if number == 0 && pickup > 0 { pickup } else { beats };
            prop_assert!(eighths == whole || (number + 1 == bars.len() && eighths < whole));
            for (index, eighths, goes_on) in bar {
                heard[*index] += eighths;
                prop_assert_eq!(*goes_on, heard[*index] < lengths[*index]);
            }
        }
        prop_assert_eq!(heard, lengths);
    }

    #[test]
    fn a_tune_written_out_is_read_back_as_it_was(
        notes in prop::collection::vec((prop::option::of(24..=100_u8), 1..=MAX_HELD), 1..40),
        beats in prop::sample::select(vec![4_u8, 6, 8]),
        pickup in 0..4_u8,
        sharps in -3..=4_i8,
    ) {
        prop_assume!(notes.iter().any(|(midi, _)| midi.is_some()));
        // A tune that is over before its first bar has no upbeat.
        let pickup = if notes.iter().map(|(_, eighths)| u32::from(*eighths)).sum::<u32>() <= u32::from(pickup) { 0 } else { pickup };
        let notes = notes.into_iter().map(|(midi, eighths)| TuneNote { midi, eighths }).collect();
        let tune = tune_of(notes, Meter { beats, unit: 8 }, pickup, sharps);
        prop_assert_eq!(line(&tune.text(), beats), Ok(Line { notes: tune.notes, pickup_eighths: tune.pickup_eighths }));
    }

    #[test]
    fn no_text_is_too_much(text in "[A-G#b0-9:|_ -]{0,200}") {
        let _ = line(&text, 8);
    }
}

/// The longest note that is tried.
const MAX_HELD: u8 = 20;

fn tune_of(notes: Vec<TuneNote>, meter: Meter, pickup_eighths: u8, sharps: i8) -> Tune {
    let key = Key { sharps, minor: false };
    Tune { id: String::new(), name: String::new(), key, meter, tempo: None, pickup_eighths, notes }
}

#[test]
fn an_upbeat_stands_before_the_first_bar_and_a_note_is_held_over_bar_lines() {
    let read = line("A4 | D5:4 C#5 B4 | A4:6 _:2 | _:2 B4:2", 8).expect("a tune");
    assert_eq!(read.pickup_eighths, 2);
    let lengths: Vec<u8> = read.notes.iter().map(|note| note.eighths).collect();
    assert_eq!(lengths, [2, 4, 2, 2, 10, 2]);
    let whole = line("D4:8 | E4:8", 8).expect("a tune");
    assert_eq!(whole.pickup_eighths, 0);
    let held = |many: usize| line(&format!("D4:8{}", " _:8".repeat(many)), 8);
    assert!(held(3).is_ok() && held(4).is_err() && held(95).is_err());
    assert!(line("_:2 D4", 8).is_err());
}

#[test]
fn keys_have_names_major_and_minor_and_a_tempo_has_bounds() {
    for name in ["C", "G", "D", "A", "E", "F", "Bb", "Eb", "Am", "Em", "Bm", "F#m", "C#m", "Dm", "Gm", "Cm"] {
        assert_eq!(Key::parse(name).expect("a key").name(), Some(name));
    }
    assert_eq!(Key::parse("Em"), Ok(Key { sharps: 1, minor: true }));
    assert!(Key::parse("em").is_err() && Key::parse("H").is_err());
    assert_eq!(Key { sharps: 5, minor: false }.name(), None);
    assert!(
        tempo(*TEMPO.start()).is_ok() && tempo(*TEMPO.end()).is_ok() && tempo(0).is_err() && tempo(u16::MAX).is_err()
    );
}
