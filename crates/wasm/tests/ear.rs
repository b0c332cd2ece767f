//! Samples in, numbers out: what the audio thread of a page gets.

use bright_row_core::craft::instrument::Instrument;
use bright_row_core::listening::string::{Act, StringSound, Touch};
use bright_row_core::listening::{RunNote, stand_in};
use bright_row_wasm::ear::{Ear, NUMBERS, SOUND_NUMBERS, notes_of};
use proptest::prelude::*;

const VIOLIN: [f64; 4] = [196.0, 293.66, 440.0, 659.26];
const RATE: f64 = 44_100.0;

fn bytes(samples: &[f32]) -> Vec<u8> {
    samples.iter().flat_map(|sample| sample.to_le_bytes()).collect()
}

fn open(hz: [f64; 4]) -> Vec<RunNote> {
    hz.map(|hz| RunNote { hz, finger: 0 }).into()
}

#[test]
fn a_string_is_heard_with_its_place_its_cents_and_what_to_do() {
    let low = 293.66 * (-20.0_f64 / 1_200.0).exp2();
    let samples = StringSound::of(Instrument::Violin, low, Touch::Open, Act::PLUCK, 1).render(RATE, 0.5);
    let mut ear = Ear::new(RATE, 0, 0, &open(VIOLIN)).expect("a usual rate");
    let mut moments = Vec::new();
    for piece in bytes(&samples).chunks(512) {
        ear.hear(piece, &mut moments);
    }
    assert_eq!(moments.len() % NUMBERS, 0);
    let last = &moments[moments.len() - NUMBERS..];
    assert!((last[2] - low).abs() < 0.05, "{last:?}");
    assert!(last[3] > 0.8, "{last:?}");
    assert!((last[4] - 1.0).abs() < 1e-9 && (last[5] + 20.0).abs() < 0.5, "{last:?}");
    assert!((last[6] - 1.0).abs() < 1e-9 && last[7].abs() < 1e-9, "{last:?}");
}

#[test]
fn a_marker_is_heard_against_the_open_string_and_a_hand_finger_by_finger() {
    let run = |notes: &[RunNote]| {
        let mut ear = Ear::new(RATE, 0, 1, notes).expect("a usual rate");
        ear.hear(&bytes(&stand_in::run(Instrument::Violin, notes, RATE)), &mut Vec::new());
        let mut numbers = Vec::new();
        ear.run(&mut numbers);
        numbers.iter().map(|number| number.round()).collect::<Vec<_>>()
    };
    let note = |hz: f64, semitones: f64, finger| RunNote { hz: hz * (semitones / 12.0).exp2(), finger };
    // The third finger on D beside open G; one stopped note is no hand.
    assert_eq!(run(&[note(196.0, 0.0, 0), note(293.66, 5.0, 3)]), [0.0, 0.0, 0.0, 0.0, 14.0]);
    let hand = [note(440.0, 0.0, 0), note(440.0, 2.0, 1), note(440.0, 4.0, 2), note(440.0, 5.0, 3)];
    assert_eq!(run(&hand), [4.0, 2.0, -47.0, 0.0, 2.0, -45.0, 2.0]);
}

#[test]
fn a_thud_is_heard_beside_the_open_string_of_this_instrument() {
    let mut ear = Ear::new(RATE, 0, 2, &open(VIOLIN)).expect("a usual rate");
    let mut said = Vec::new();
    for piece in bytes(&stand_in::sounds(Instrument::Violin, VIOLIN, RATE)).chunks(512) {
        ear.hear(piece, &mut Vec::new());
        said.extend_from_slice(ear.sounds());
    }
    let (sounds, []) = said.as_chunks::<SOUND_NUMBERS>() else { panic!("{said:?}") };
    let said: Vec<[f64; 3]> = sounds.iter().map(|sound| [sound[2], sound[6], sound[7]]).collect();
    // An open A that rings, a thud; then with the bow a scratch, a glassy tone, a jump at the turn, two strings.
    assert_eq!(said[..2], [[0.0, 0.0, 2.0], [0.0, 2.0, -1.0]], "{sounds:?}");
    let bowed: Vec<f64> = said.iter().filter(|[kind, ..]| (kind - 1.0).abs() < 1e-9).map(|sound| sound[1]).collect();
    assert_eq!(bowed, [5.0, 8.0, 9.0, 10.0], "{sounds:?}");
    assert!(sounds[1][8] > 0.3, "{sounds:?}");
}

#[test]
fn nobody_listens_to_an_instrument_a_task_or_a_rate_that_there_is_not() {
    assert!(Ear::new(RATE, 4, 0, &open(VIOLIN)).is_none());
    assert!(Ear::new(RATE, 0, 3, &open(VIOLIN)).is_none());
    assert!(Ear::new(4_000.0, 0, 0, &open(VIOLIN)).is_none());
    assert!(Ear::new(f64::NAN, 0, 0, &open(VIOLIN)).is_none());
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    #[test]
    fn no_bytes_end_it(
        bytes in prop::collection::vec(any::<u8>(), 0..20_000),
        notes in prop::collection::vec(any::<u8>(), 0..300),
        task in 0_usize..3,
    ) {
        let notes = notes_of(&notes);
        prop_assert!(notes.len() <= 8 && notes.iter().all(|note| note.finger <= 4));
        let mut ear = Ear::new(8_000.0, 3, task, &notes).expect("a usual rate");
        let mut moments = Vec::new();
        ear.hear(&bytes, &mut moments);
        ear.run(&mut moments);
        prop_assert!(moments.iter().chain(ear.sounds()).all(|number| number.is_finite()), "{moments:?}");
    }
}
