//! Notes one after the other, the trainer's questions, tones to compare with, and what stands in for a microphone.

#![expect(
    clippy::as_conversions,
    clippy::cast_possible_truncation,
    clippy::cast_precision_loss,
    clippy::cast_sign_loss,
    reason = "seeds, counts and levels, all small"
)]

use std::collections::BTreeMap;

use bright_row_core::craft::instrument::Instrument;
use bright_row_core::listening::string::{Act, StringSound, Touch, reference_tone};
use bright_row_core::listening::trainer::{Answer, Ask, Question, next_cents};
use bright_row_core::listening::{
    HandPattern, Heard, Kind, Listener, MAX_NOTES, Range, Run, RunNote, Sound, Sounds, Tuner, Verdict, cents, hertz,
    stand_in,
};
use proptest::prelude::*;

const RATE: f64 = 44_100.0;
const VIOLIN: [f64; 4] = [196.0, 293.66, 440.0, 659.26];

fn heard(samples: &[f32], range: Range) -> Vec<Heard> {
    Listener::new(RATE, range).expect("a usual rate").push(samples).collect()
}

fn note(hz: f64, semitones: f64, finger: u8) -> RunNote {
    RunNote { hz: hz * (semitones / 12.0).exp2(), finger }
}

fn pluck(instrument: Instrument, hz: f64, touch: Touch) -> Vec<f32> {
    StringSound::of(instrument, hz, touch, Act::PLUCK, 7).render(RATE, 1.2)
}

/// The run after these sounds.
fn after(run: &mut Run, instrument: Instrument, sounds: &[(f64, Touch)]) {
    let samples: Vec<f32> = sounds.iter().flat_map(|(hz, touch)| pluck(instrument, *hz, *touch)).collect();
    for heard in heard(&samples, Range::of(instrument)) {
        run.hear(&heard);
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(16))]

    #[test]
    fn a_marker_is_as_far_off_as_it_lies_whatever_the_open_string_is_tuned_to(
        off in -55.0..55.0_f64, tuned in -40.0..40.0_f64, instrument in prop::sample::select(Instrument::ALL.to_vec()),
    ) {
        let open = [196.0, 130.81, 65.41, 41.2][Instrument::ALL.iter().position(|one| *one == instrument).expect("one")];
        let shift = (tuned / 1_200.0).exp2();
        let mut run = Run::new(&[note(open, 0.0, 0), note(open, 5.0, 3)], 60.0);
        let stopped = note(open, 5.0 + off / 100.0, 3).hz * shift;
        after(&mut run, instrument, &[(open * shift, Touch::Open), (stopped, Touch::Stopped)]);
        prop_assert!(run.is_over(), "{:?}", run.taken());
        prop_assert!((run.taken()[0] - tuned).abs() < 2.0, "{:?}", run.taken());
        prop_assert!((run.taken()[1] - off).abs() < 2.0, "{:?}, not {off}", run.taken());
    }

    #[test]
    fn whatever_is_asked_for_a_run_only_counts_what_is_near(
        hz in prop::collection::vec(any::<f64>(), 0..12), finger in any::<u8>(), within in any::<f64>(), seed in any::<u64>(),
    ) {
        let notes: Vec<RunNote> = hz.into_iter().map(|hz| RunNote { hz, finger }).collect();
        let mut run = Run::new(&notes, within);
        let samples = StringSound::of(Instrument::Violin, 440.0, Touch::Open, Act::PLUCK, seed).render(RATE, 0.6);
        for heard in heard(&samples, Range::of(Instrument::Violin)) {
            let off = run.hear(&heard);
            prop_assert!(off.is_none_or(|off| off.abs() <= within), "{off:?}");
        }
        prop_assert!(run.taken().len() <= MAX_NOTES);
        prop_assert!(run.taken().iter().all(|off| off.is_finite()));
    }

    #[test]
    fn a_question_is_the_same_for_the_same_seed_and_two_notes_differ_as_it_says(
        seed in any::<u64>(), asked in any::<f64>(), instrument in prop::sample::select(Instrument::ALL.to_vec()),
    ) {
        let question = Question::new(Ask::Pitch, instrument, asked, seed);
        prop_assert_eq!(&question, &Question::new(Ask::Pitch, instrument, asked, seed));
        let samples = question.render(RATE);
        prop_assert!(samples.iter().all(|sample| sample.abs() <= 1.0));
        let pitches = |from: f64, to: f64| {
            let piece = &samples[(from * RATE) as usize..(to * RATE) as usize];
            heard(piece, Range::of(instrument)).last().and_then(|heard| heard.pitch).map(|pitch| pitch.hz)
        };
        let (Some(first), Some(second)) = (pitches(0.0, 1.0), pitches(1.45, 2.6)) else { return Ok(()) };
        let wanted = if asked.is_finite() { asked.clamp(2.0, 100.0) } else { 100.0 };
        let off = cents(second, first) * if question.answer == Answer::Higher { 1.0 } else { -1.0 };
        prop_assert!((off - wanted).abs() < 1.5, "{off}, not {wanted}");
    }
}

#[test]
fn a_hand_is_heard_finger_by_finger_beside_its_open_string() {
    let notes = [note(440.0, 0.0, 0), note(440.0, 2.0, 1), note(440.0, 4.0, 2), note(440.0, 5.0, 3)];
    let mut run = Run::new(&notes, 60.0);
    assert_eq!(run.pattern(), None);
    for heard in heard(&stand_in::run(Instrument::Violin, &notes, RATE), Range::of(Instrument::Violin)) {
        run.hear(&heard);
    }
    let Some(HandPattern::OneOff { finger: 2, cents }) = run.pattern() else { panic!("{:?}", run.pattern()) };
    assert!((-49.0..-45.0).contains(&cents), "{cents}");
}

#[test]
fn the_same_pitch_is_taken_again_only_when_it_is_played_again() {
    // The fourth finger on D is the open A.
    let notes = [note(440.0, 0.0, 0), note(440.0, 0.0, 4)];
    let mut run = Run::new(&notes, 60.0);
    after(&mut run, Instrument::Violin, &[(440.0, Touch::Open)]);
    assert_eq!(run.taken().len(), 1);
    after(&mut run, Instrument::Violin, &[(440.0 * (10.0_f64 / 1_200.0).exp2(), Touch::Stopped)]);
    assert!((run.taken()[1] - 10.0).abs() < 1.0, "{:?}", run.taken());
    // What comes after the last note changes nothing.
    after(&mut run, Instrument::Violin, &[(440.0, Touch::Open)]);
    assert!((run.taken()[1] - 10.0).abs() < 1.0, "{:?}", run.taken());
}

#[test]
fn another_note_is_not_taken_for_the_one_that_is_to_be_played() {
    let mut run = Run::new(&[note(440.0, 2.0, 1)], 60.0);
    after(&mut run, Instrument::Violin, &[(440.0, Touch::Open), (440.0 * (3.0_f64 / 12.0).exp2(), Touch::Stopped)]);
    assert!(run.taken().is_empty());
}

#[test]
fn a_pluck_is_compared_with_the_open_string_that_was_heard_before() {
    let mut sounds = Sounds::new(Some(Instrument::Violin)).with_open(VIOLIN);
    let mut over: Vec<Sound> = Vec::new();
    let listener = Listener::new(RATE, Range::of(Instrument::Violin)).expect("a usual rate");
    for heard in listener.with_open(VIOLIN).push(&stand_in::sounds(Instrument::Violin, VIOLIN, RATE)) {
        over.extend(sounds.hear(heard));
    }
    over.extend(sounds.end());
    over.retain(|sound| sound.kind != Kind::Noise);
    let said: Vec<_> = over.iter().map(|sound| (sound.verdict, sound.open)).collect();
    assert_eq!(said[0], (Some(Verdict::Rings), Some(2)));
    assert_eq!(said[1], (Some(Verdict::Thud), None));
    let bowed: Vec<_> = said[2..].iter().filter_map(|(verdict, _)| *verdict).collect();
    assert_eq!(bowed, [Verdict::Scratch, Verdict::Glass, Verdict::Jump, Verdict::TwoStrings]);
    assert_eq!(sounds.open_ring(), over[0].ring_seconds);
}

#[test]
fn tones_to_compare_with_hold_their_pitch() {
    for midi in [28, 43, 57, 69, 81] {
        for held in [false, true] {
            let hz = hertz(midi, 440.0);
            let heard = heard(&reference_tone(hz, held, RATE, 1.1), Range::all());
            let off: Vec<f64> = heard
                .iter()
                .filter(|heard| heard.at > 0.5)
                .filter_map(|heard| heard.pitch)
                .map(|p| cents(p.hz, hz))
                .collect();
            assert!(off.len() >= 8, "{midi}, held {held}: heard {} times", off.len());
            assert!(off.iter().all(|off| off.abs() < 1.3), "{midi}, held {held}: {off:?}");
        }
    }
}

#[test]
fn every_answer_is_asked_for_about_as_often() {
    let count = |ask| {
        let mut count: BTreeMap<String, u32> = BTreeMap::new();
        for seed in 0..300 {
            *count.entry(format!("{:?}", Question::new(ask, Instrument::Cello, 20.0, seed).answer)).or_default() += 1;
        }
        count
    };
    for (ask, answers) in [(Ask::Pluck, 3), (Ask::Bow, 5), (Ask::Pitch, 2)] {
        let count = count(ask);
        assert_eq!(count.len(), answers, "{count:?}");
        let fair = 300 / u32::try_from(answers).expect("few");
        assert!(count.values().all(|asked| (fair / 2..fair * 2).contains(asked)), "{count:?}");
    }
}

#[test]
fn two_notes_come_nearer_with_every_second_right_answer_and_part_with_a_wrong_one() {
    assert!((next_cents(40.0, 1) - 40.0).abs() < 1e-9);
    assert!((next_cents(40.0, 2) - 25.0).abs() < 1e-9);
    assert!((next_cents(25.0, 0) - 40.0).abs() < 1e-9);
    assert!((next_cents(2.0, 4) - 2.0).abs() < 1e-9 && (next_cents(100.0, 0) - 100.0).abs() < 1e-9);
}

#[test]
fn a_string_is_named_soon_after_it_was_plucked_also_while_another_one_sounds() {
    let open = [
        (Instrument::Violin, VIOLIN, 0.09),
        (Instrument::Viola, [130.81, 196.0, 293.66, 440.0], 0.09),
        (Instrument::Cello, [65.41, 98.0, 146.83, 220.0], 0.11),
        (Instrument::Bass, [41.2, 55.0, 73.42, 98.0], 0.15),
    ];
    for (instrument, open, seconds) in open {
        for string in 0..4 {
            let other = pluck(instrument, open[(string + 1) % 4], Touch::Open);
            let silence = vec![0.0; other.len()];
            for before in [silence, other] {
                let begins = before.len() as f64 / RATE;
                let samples = [before, pluck(instrument, open[string], Touch::Open)].concat();
                let mut said = heard(&samples, Range::of(instrument)).into_iter().filter(|heard| heard.at > begins);
                let near = |heard: &Heard| heard.pitch.is_some_and(|pitch| cents(pitch.hz, open[string]).abs() < 30.0);
                let after = said.find(near).expect("it rings").at - begins;
                assert!(after < seconds, "{instrument:?} {string}: {after} s");
            }
        }
    }
}

#[test]
fn what_stands_in_for_a_microphone_tunes_four_strings() {
    let mut tuner = Tuner::new(VIOLIN);
    let mut low = false;
    for heard in heard(&stand_in::tuning(Instrument::Violin, VIOLIN, RATE), Range::of(Instrument::Violin)) {
        low |= tuner.hear(&heard).is_some_and(|tuned| tuned.place == 1 && (-32.0..-28.0).contains(&tuned.cents));
    }
    assert!(low);
    assert_eq!(tuner.done(), [true; 4]);
}
