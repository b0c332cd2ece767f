//! What is heard of simulated strings: pitch, ring, tone, hands; and that nothing is heard where nothing sounds.

#![expect(
    clippy::as_conversions,
    clippy::cast_possible_truncation,
    clippy::cast_precision_loss,
    reason = "seeds, counts and levels, all small"
)]

use bright_row_core::craft::instrument::Instrument;
use bright_row_core::listening::string::{Act, BowTurn, StringSound, Touch, stopped_hz};
use bright_row_core::listening::{
    HandPattern, Heard, Kind, Listener, Range, Sound, Sounds, StoppedNote, Tuner, Turn, Verdict, cents, hand_pattern,
    hertz, nearest_note, open_string, sounding_string, spelled,
};
use proptest::prelude::*;

const RATE: f64 = 48_000.0;

/// The lowest and the highest pitch that beginners play, as MIDI numbers.
const fn compass(instrument: Instrument) -> (f64, f64) {
    match instrument {
        Instrument::Violin => (55.0, 83.0),
        Instrument::Viola => (48.0, 76.0),
        Instrument::Cello => (36.0, 62.0),
        Instrument::Bass => (28.0, 48.0),
    }
}

fn hz_of(midi: f64) -> f64 {
    440.0 * ((midi - 69.0) / 12.0).exp2()
}

fn heard(samples: &[f32], rate: f64, range: Range) -> Vec<Heard> {
    Listener::new(rate, range).expect("a usual rate").push(samples).collect()
}

/// So many semitones above an open string.
fn stopped(open_hz: f64, semitones: f64) -> f64 {
    open_hz * (semitones / 12.0).exp2()
}

/// Low to high, in hertz.
const fn open_strings(instrument: Instrument) -> [f64; 4] {
    match instrument {
        Instrument::Violin => [196.0, 293.66, 440.0, 659.26],
        Instrument::Viola => [130.81, 196.0, 293.66, 440.0],
        Instrument::Cello => [65.41, 98.0, 146.83, 220.0],
        Instrument::Bass => [41.2, 55.0, 73.42, 98.0],
    }
}

fn gathered(samples: &[f32], instrument: Instrument) -> Vec<Sound> {
    let mut sounds = Sounds::new(Some(instrument));
    let listener = Listener::new(RATE, Range::of(instrument)).expect("a usual rate");
    let mut listener = listener.with_open(open_strings(instrument));
    let mut all: Vec<Sound> = listener.push(samples).filter_map(|heard| sounds.hear(heard)).collect();
    all.extend(sounds.end());
    all.retain(|sound| sound.kind != Kind::Noise);
    all
}

fn any_string() -> impl Strategy<Value = (Instrument, f64, bool, u64)> {
    let instrument = prop::sample::select(Instrument::ALL.to_vec());
    (instrument, 0.0..1.0, any::<bool>(), any::<u64>()).prop_map(|(instrument, share, bowed, seed)| {
        let (low, high) = compass(instrument);
        (instrument, hz_of(low + (high - low) * share), bowed, seed)
    })
}

fn sound((instrument, hz, bowed, seed): (Instrument, f64, bool, u64)) -> StringSound {
    StringSound::of(instrument, hz, Touch::Stopped, if bowed { Act::BOW } else { Act::PLUCK }, seed)
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(16))]

    #[test]
    fn a_plucked_string_is_heard_to_a_cent_at_any_rate_and_level(
        string in any_string(), rate in 8_000.0..96_000.0_f64, quiet in 0.0..60.0_f64,
    ) {
        let string = (string.0, string.1.min(rate / 8.0), false, string.3);
        let share = 10.0_f32.powf(-quiet as f32 / 20.0);
        let samples: Vec<f32> = sound(string).render(rate, 0.55).iter().map(|sample| sample * share).collect();
        let range = Range::of(string.0);
        let pitches: Vec<f64> = heard(&samples, rate, range)
            .iter()
            .filter(|heard| heard.at > 0.3)
            .filter_map(|heard| Some(cents(heard.pitch?.hz, string.1)))
            .collect();
        prop_assert!(pitches.len() >= 10, "heard {} times", pitches.len());
        for off in pitches {
            prop_assert!(off.abs() < 1.0, "{off} cents off at {} Hz", string.1);
        }
    }

    #[test]
    fn louder_or_softer_is_the_same_pitch_and_the_pieces_it_comes_in_do_not_count(
        string in any_string(), halvings in 1_i32..10, piece in 1_usize..3_000,
    ) {
        let samples = sound(string).render(RATE, 0.4);
        let whole = heard(&samples, RATE, Range::of(string.0));
        let softer: Vec<f32> = samples.iter().map(|sample| sample * 0.5_f32.powi(halvings)).collect();
        let mut listener = Listener::new(RATE, Range::of(string.0)).expect("a usual rate");
        let pieces: Vec<Heard> =
            softer.chunks(piece).flat_map(|piece| listener.push(piece).collect::<Vec<_>>()).collect();
        prop_assert_eq!(whole.len(), pieces.len());
        for (whole, piece) in whole.iter().zip(&pieces) {
            prop_assert_eq!(whole.pitch, piece.pitch);
        }
    }

    #[test]
    fn a_semitone_is_a_hundred_cents(string in any_string()) {
        let string = (string.0, string.1, false, string.3);
        let higher = (string.0, string.1 * (1.0_f64 / 12.0).exp2(), false, string.3);
        let last = |string| {
            let heard = heard(&sound(string).render(RATE, 0.4), RATE, Range::of(string.0));
            heard.last().and_then(|heard| heard.pitch).map(|pitch| pitch.hz)
        };
        let (low, high) = (last(string), last(higher));
        let (Some(low), Some(high)) = (low, high) else { return Err(TestCaseError::fail("not heard")) };
        prop_assert!((cents(high, low) - 100.0).abs() < 1.0, "{}", cents(high, low));
    }

    #[test]
    fn noise_has_no_pitch(seed in any::<u64>(), instrument in prop::sample::select(Instrument::ALL.to_vec())) {
        let mut state = seed;
        let white: Vec<f32> = (0..48_000)
            .map(|_| {
                state = state.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
                (state >> 40) as f32 / (1_u32 << 23) as f32 - 1.0
            })
            .collect();
        for range in [Range::of(instrument), Range::all()] {
            prop_assert!(heard(&white, RATE, range).iter().all(|heard| heard.pitch.is_none()));
        }
    }

    #[test]
    fn whatever_comes_in_only_numbers_come_out(
        samples in prop::collection::vec(any::<f32>(), 0..6_000), rate in prop::num::f64::ANY,
    ) {
        let Ok(mut listener) = Listener::new(rate, Range::all()) else { return Ok(()) };
        let mut sounds = Sounds::new(None);
        for heard in listener.push(&samples).collect::<Vec<_>>() {
            prop_assert!(heard.level_db.is_finite() && heard.hiss.is_finite() && heard.alike.is_finite());
            sounds.hear(heard);
        }
        sounds.end();
    }
}

#[test]
fn silence_is_nothing_and_odd_rates_are_refused() {
    let silent = heard(&vec![0.0; 48_000], RATE, Range::all());
    assert_eq!(silent.len(), 50);
    assert!(silent.iter().all(|heard| heard.pitch.is_none() && heard.level_db < -150.0));
    for rate in [0.0, 7_999.0, 96_001.0, f64::NAN, f64::INFINITY] {
        let refused = Listener::new(rate, Range::all()).expect_err("nobody listens to this");
        assert!(refused.to_string().contains("8000 to 96000"), "{refused}");
    }
}

/// How often a pitch was said in a class at work, how often within five cents, how often an octave or more away.
fn in_a_class(decibels: f64, seeds: std::ops::Range<u64>) -> (usize, usize, usize) {
    let (mut said, mut near, mut far) = (0, 0, 0);
    for instrument in Instrument::ALL {
        let (low, high) = compass(instrument);
        for seed in seeds.clone() {
            let hz = hz_of(low + (high - low) * (seed as f64 * 0.618).fract());
            let mut string = sound((instrument, hz, seed % 2 == 0, seed));
            string.class_db = Some(decibels);
            for heard in heard(&string.render(RATE, 0.8), RATE, Range::of(instrument)) {
                let Some(pitch) = heard.pitch.filter(|_| heard.at > 0.3) else { continue };
                let off = cents(pitch.hz, hz).abs();
                said += 1;
                near += usize::from(off < 5.0);
                far += usize::from(off > 600.0);
            }
        }
    }
    (said, near, far)
}

#[test]
fn in_a_class_at_work_it_is_right_or_silent() {
    let (said, near, far) = in_a_class(10.0, 5_000..5_010);
    assert!(said > 500, "{said}");
    assert!(near * 100 >= said * 95, "{near} of {said} are within 5 cents");
    assert!(far * 1_000 < said * 5, "{far} of {said} are an octave away");
    // A class that is as loud as ten strings: hardly anything is sure.
    let (said, _, far) = in_a_class(-20.0, 5_000..5_003);
    assert!(said < 20 && far <= said, "{said}");
}

#[test]
fn of_two_strings_the_louder_is_named_or_none() {
    let (mut said, mut right) = (0, 0);
    for instrument in Instrument::ALL {
        let (low, high) = compass(instrument);
        for seed in 0..6 {
            let hz = hz_of(low + (high - low) * 0.7 * (seed as f64 * 0.618).fract());
            let mut string = sound((instrument, hz, true, seed));
            string.neighbour = Some((hz * 1.5, 0.3));
            let pitches = heard(&string.render(RATE, 0.8), RATE, Range::of(instrument));
            let pitches = pitches.iter().filter_map(|heard| Some(cents(heard.pitch?.hz, hz)));
            for off in pitches {
                said += 1;
                right += usize::from(off.abs() < 20.0);
            }
        }
    }
    assert!(said > 100 && right * 100 >= said * 95, "{right} of {said}");
}

/// How many of these sounds, on all instruments and seeds that were not looked at before, are judged so; and of how many.
fn judged(touch: Touch, act: Act, turn: Option<BowTurn>, verdict: Verdict) -> (f64, f64) {
    let (mut right, mut all) = (0.0, 0.0);
    for instrument in Instrument::ALL {
        let (low, high) = compass(instrument);
        for seed in 70_000..70_006_u64 {
            let hz = hz_of(low + (high - low) * (seed as f64 * 0.618).fract());
            let string = StringSound {
                begins: 0.3,
                class_db: Some(30.0),
                turn,
                ..StringSound::of(instrument, hz, touch, act, seed)
            };
            let sounds = gathered(&string.render(RATE, 1.9), instrument);
            all += 1.0;
            right += f64::from(u8::from(sounds.first().is_some_and(|sound| sound.verdict == Some(verdict))));
        }
    }
    (right, all)
}

/// Of all these sounds 95 % are judged right, and so many of each.
fn are_judged(least: f64, sounds: &[(Touch, Act, Option<BowTurn>, Verdict)]) {
    let (mut right, mut all) = (0.0, 0.0);
    for (touch, act, turn, verdict) in sounds {
        let of_these = judged(*touch, *act, *turn, *verdict);
        assert!(of_these.0 >= least * of_these.1, "{touch:?}, {act:?}, {turn:?}: {of_these:?} are {verdict:?}");
        right += of_these.0;
        all += of_these.1;
    }
    assert!(right >= 0.95 * all, "{right} of {all}");
}

#[test]
fn a_pluck_rings_or_thuds_or_buzzes() {
    let pluck = |buzz| Act::Pluck { place: 0.2, nail: false, buzz };
    are_judged(
        0.95,
        &[
            (Touch::Open, pluck(0.0), None, Verdict::Rings),
            (Touch::Stopped, pluck(0.0), None, Verdict::Rings),
            (Touch::Open, Act::Pluck { place: 0.15, nail: true, buzz: 0.0 }, None, Verdict::Rings),
            (Touch::Light, pluck(0.0), None, Verdict::Thud),
            (Touch::Open, pluck(1.0), None, Verdict::Buzz),
        ],
    );
}

#[test]
fn a_stroke_is_full_or_scratches_or_wavers_or_is_glassy() {
    let bow = |force, place, speed, waver| Act::Bow { force, place, speed, waver };
    are_judged(
        0.95,
        &[
            (Touch::Stopped, bow(0.45, 0.11, 0.5, 0.0), None, Verdict::Full),
            (Touch::Stopped, bow(0.4, 0.11, 0.3, 0.0), None, Verdict::Full),
            (Touch::Stopped, bow(0.9, 0.11, 0.15, 0.1), None, Verdict::Scratch),
            (Touch::Stopped, bow(0.4, 0.11, 0.5, 0.7), None, Verdict::Wavers),
            (Touch::Stopped, bow(0.08, 0.2, 0.5, 0.0), None, Verdict::Whisper),
            (Touch::Stopped, bow(0.2, 0.03, 0.7, 0.0), None, Verdict::Glass),
        ],
    );
}

#[test]
fn a_stroke_that_lands_with_a_jump_is_told_from_one_that_turns_gently() {
    let turn = |jump| Some(BowTurn { after: 0.7, jump });
    let wavers = Act::Bow { force: 0.4, place: 0.11, speed: 0.5, waver: 0.7 };
    are_judged(
        0.85,
        &[
            (Touch::Stopped, Act::BOW, turn(0.0), Verdict::Full),
            (Touch::Stopped, Act::BOW, turn(1.0), Verdict::Jump),
            (Touch::Open, Act::BOW, turn(0.9), Verdict::Jump),
            (Touch::Stopped, wavers, turn(0.0), Verdict::Wavers),
            (Touch::Stopped, wavers, turn(1.0), Verdict::Wavers),
        ],
    );
}

#[test]
fn a_neighbour_that_sounds_too_is_named_and_one_string_alone_is_never_two() {
    let (mut named, mut all) = (0, 0);
    for instrument in Instrument::ALL {
        let open = open_strings(instrument);
        for (seed, semitones, louder) in
            [(80_000, 0.0, 0.3), (80_001, 2.0, 0.8), (80_002, 4.0, 0.5), (80_003, 3.0, 0.3)]
        {
            // The highest string is played with the one below it, others with the one above.
            let string = usize::try_from(seed - 80_000).expect("few");
            let other = if string == 3 { 2 } else { string + 1 };
            let hz = stopped(open[string], semitones);
            let alone = StringSound {
                begins: 0.3,
                class_db: Some(30.0),
                ..StringSound::of(instrument, hz, Touch::Stopped, Act::BOW, seed)
            };
            let both = StringSound { neighbour: Some((open[other], louder)), ..alone.clone() };
            assert_eq!(gathered(&alone.render(RATE, 1.7), instrument)[0].beside, None);
            let sound = gathered(&both.render(RATE, 1.7), instrument)[0];
            all += 1;
            // Of two open strings as loud as each other either one is beside the other.
            named += i32::from(
                sound.verdict == Some(Verdict::TwoStrings)
                    && (sound.beside == Some(other) || (semitones < 1.0 && sound.beside == Some(string))),
            );
        }
    }
    assert!(named * 100 >= all * 95, "{named} of {all}");
}

#[test]
fn a_glassy_string_that_is_heard_an_octave_higher_is_no_second_string() {
    let light = Act::Bow { force: 0.2, place: 0.03, speed: 0.7, waver: 0.0 };
    for instrument in Instrument::ALL {
        for hz in open_strings(instrument) {
            let sounds =
                gathered(&StringSound::of(instrument, hz, Touch::Open, light, 3).render(RATE, 1.0), instrument);
            assert!(sounds.iter().all(|sound| sound.beside.is_none()), "{instrument:?} {hz}: {sounds:?}");
        }
    }
}

#[test]
fn open_strings_that_are_no_pitches_are_beside_nothing() {
    let noise = StringSound { class_db: Some(-40.0), ..sound((Instrument::Violin, 440.0, true, 5)) }.render(RATE, 0.5);
    for open in [f64::NAN, 0.0, -1.0, f64::INFINITY, 1e-300, 1e300] {
        let listener = Listener::new(RATE, Range::of(Instrument::Violin)).expect("a usual rate");
        assert!(listener.with_open([open; 4]).push(&noise).all(|heard| heard.beside.is_none()), "{open}");
    }
}

#[test]
fn a_ring_is_compared_with_the_open_string_of_this_very_instrument() {
    let pluck = StringSound { begins: 0.3, ..sound((Instrument::Cello, 98.0, false, 4)) };
    let heard = heard(&pluck.render(RATE, 2.4), RATE, Range::of(Instrument::Cello));
    let with = |open: Option<f64>| {
        let mut sounds = Sounds::new(Some(Instrument::Cello));
        if let Some(open) = open {
            sounds.compare_with(open);
        }
        let over: Vec<Sound> = heard.iter().filter_map(|heard| sounds.hear(*heard)).collect();
        over.into_iter().chain(sounds.end()).next().expect("it sounded")
    };
    let usual = with(None);
    assert_eq!(usual.verdict, Some(Verdict::Rings));
    let ring = usual.ring_seconds.expect("it was plucked");
    assert!((0.5..0.7).contains(&ring), "{ring} s");
    // An instrument whose open strings ring for a very long time: the same ring is short there.
    assert_eq!(with(Some(4.0)).verdict, Some(Verdict::Short));
}

#[test]
fn plucks_one_after_the_other_are_told_apart() {
    let mut samples = Vec::new();
    let open = [196.0, 293.66, 440.0, 659.26];
    for (seed, hz) in (0..).zip(open) {
        samples.extend(StringSound::of(Instrument::Violin, hz, Touch::Open, Act::PLUCK, seed).render(RATE, 0.8));
    }
    let sounds = gathered(&samples, Instrument::Violin);
    let said: Vec<String> = sounds
        .iter()
        .map(|sound| format!("{:.1} {:?} {:.0}", sound.at, sound.kind, sound.hz.unwrap_or_default()))
        .collect();
    assert_eq!(said, ["0.0 Pluck 196", "0.8 Pluck 294", "1.6 Pluck 440", "2.4 Pluck 659"]);
}

#[test]
fn a_marker_that_lies_too_near_the_nut_is_heard_in_millimetres() {
    // The first finger's place on a string of 325 mm is 35.4 mm from the nut.
    let [right, low] = [35.4, 33.4].map(|at| stopped_hz(440.0, 325.0, at));
    let sound = StringSound::of(Instrument::Violin, low, Touch::Stopped, Act::PLUCK, 1);
    let heard = heard(&sound.render(RATE, 0.5), RATE, Range::of(Instrument::Violin));
    let pitch = heard.last().and_then(|heard| heard.pitch).expect("it rings");
    let off = cents(pitch.hz, right);
    assert!((-12.2..-11.6).contains(&off), "{off}");
    let at = bright_row_core::tapes::layout::stopped_at_mm(325.0, 35.4, off);
    assert!((at - 33.4).abs() < 0.05, "{at} mm");
}

#[test]
fn a_run_of_notes_says_how_the_hand_lies() {
    let pattern = |cents: &[f64]| {
        let run: Vec<StoppedNote> =
            (1..).zip(cents).map(|(finger, cents)| StoppedNote { finger, cents: *cents }).collect();
        hand_pattern(&run)
    };
    assert_eq!(pattern(&[3.0, -8.0, 11.0]), Some(HandPattern::InTune));
    assert_eq!(pattern(&[-20.0, -28.0, -24.0]), Some(HandPattern::AllLow(-24.0)));
    assert_eq!(pattern(&[30.0, 22.0]), Some(HandPattern::AllHigh(26.0)));
    assert_eq!(pattern(&[0.0, -44.0, 4.0]), Some(HandPattern::OneOff { finger: 2, cents: -46.0 }));
    assert_eq!(pattern(&[-40.0, 0.0, 45.0]), Some(HandPattern::Spread));
    assert_eq!(pattern(&[-40.0]), None);
    assert_eq!(pattern(&[-40.0, f64::NAN]), None);
}

#[test]
fn hertz_are_notes_and_strings() {
    assert!((hertz(69, 442.0) - 442.0).abs() < 1e-9);
    assert_eq!((spelled(69), spelled(54), spelled(0)), ("A4".to_owned(), "F#3".to_owned(), "C-1".to_owned()));
    let (midi, off) = nearest_note(446.0, 440.0).expect("a note");
    assert_eq!(midi, 69);
    assert!((off - 23.4).abs() < 0.1, "{off}");
    assert_eq!(nearest_note(f64::NAN, 440.0), None);
    assert_eq!(nearest_note(0.0, 440.0), None);
    let violin = [196.0, 293.66, 440.0, 659.26];
    assert_eq!(open_string(280.0, &violin).map(|(place, _)| place), Some(1));
    assert_eq!(open_string(f64::NAN, &violin), None);
    assert_eq!(sounding_string(392.0, &violin), Some(1));
    assert_eq!(sounding_string(435.0, &violin), Some(2));
    assert_eq!(sounding_string(150.0, &violin), None);
}

#[test]
fn the_same_seed_sounds_the_same() {
    let string = StringSound { class_db: Some(20.0), ..sound((Instrument::Bass, 55.0, true, 9)) };
    assert_eq!(string.render(RATE, 0.2), string.render(RATE, 0.2));
    assert_ne!(string.render(RATE, 0.2), StringSound { seed: 10, ..string }.render(RATE, 0.2));
}

#[test]
fn four_strings_are_tuned_one_after_the_other_and_a_peg_that_slips_is_noticed() {
    let open = [196.0, 293.66, 440.0, 659.26];
    let mut tuner = Tuner::new(open);
    let mut play = |hz: f64| {
        let samples = StringSound::of(Instrument::Violin, hz, Touch::Open, Act::PLUCK, 3).render(RATE, 0.8);
        let heard = heard(&samples, RATE, Range::of(Instrument::Violin));
        let tuned = heard.iter().filter_map(|heard| tuner.hear(heard)).last().expect("it rings");
        (tuned.place, tuned.cents.round(), tuned.turn, tuner.done())
    };
    let off = |hz: f64, cents: f64| hz * (cents / 1_200.0).exp2();
    let [no, yes] = [false, true];
    assert_eq!(play(off(440.0, -160.0)), (2, -160.0, Turn::PegUp, [no; 4]));
    assert_eq!(play(off(440.0, -30.0)), (2, -30.0, Turn::FineUp, [no; 4]));
    assert_eq!(play(off(440.0, 30.0)), (2, 30.0, Turn::FineDown, [no; 4]));
    assert_eq!(play(off(440.0, 3.0)), (2, 3.0, Turn::Stay, [no, no, yes, no]));
    assert_eq!(play(off(293.66, 250.0)), (1, 250.0, Turn::PegDown, [no, no, yes, no]));
    for (hz, done) in [(196.0, [yes, no, yes, no]), (293.66, [yes, yes, yes, no]), (659.26, [yes; 4])] {
        assert_eq!(play(hz).3, done);
    }
    // It was not pushed in.
    assert_eq!(play(off(440.0, -80.0)), (2, -80.0, Turn::FineUp, [yes, yes, no, yes]));
}
