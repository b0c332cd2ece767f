//! Where markers go, what a miss comes to, and how markers are proved by ear.

mod support;

use std::collections::BTreeMap;

use bright_row_core::craft::instrument::Instrument::{self, Bass, Cello, Viola, Violin};
use bright_row_core::number::tenths;
use bright_row_core::tapes::ear_checks::{EarCheck, Relation, ear_checks, placing_order, step_check, stopped_notes};
use bright_row_core::tapes::finger::{Finger, Spot};
use bright_row_core::tapes::layout::{
    LayoutFault, bridge_shift, cents_off, distance_mm, edge_mm, open_hz, positions, stopped_at_mm, stops_at_mm,
};
use bright_row_core::tapes::offset::{heard_error, median, propose_offset};
use bright_row_core::tapes::settings::{Align, MarkerSettings, SettingsFault, Temperament, Tolerance, Verdict};
use proptest::prelude::*;
use support::content;

const EQUAL: Temperament = Temperament::Equal;
const PURE: Temperament = Temperament::Pythagorean;

fn shown(instrument: Instrument, length: f64, temperament: Temperament, fingers: &[Finger]) -> Vec<f64> {
    let settings = MarkerSettings { temperament, ..MarkerSettings::default() };
    let places = positions(instrument, length, &settings, fingers, &BTreeMap::new()).expect("a layout");
    places.iter().map(|place| tenths(place.distance_mm)).collect()
}

#[test]
fn the_worked_examples_come_out_to_a_tenth_of_a_millimetre() {
    use Finger::{Four, Low2, One, Three, Two};
    assert_eq!(shown(Violin, 328.0, EQUAL, &[One, Low2, Two, Three, Four]), [35.8, 52.2, 67.7, 82.3, 109.1]);
    assert_eq!(shown(Violin, 286.0, EQUAL, &[One, Low2, Two, Three, Four]), [31.2, 45.5, 59.0, 71.7, 95.1]);
    assert_eq!(shown(Cello, 690.0, EQUAL, &[One, Two, Three, Four]), [75.3, 109.8, 142.3, 173.1]);
    assert_eq!(shown(Bass, 1060.0, EQUAL, &[One, Two, Four]), [115.6, 168.6, 218.7]);
    assert_eq!(shown(Violin, 328.0, PURE, &[One, Low2, Two, Three, Four]), [36.4, 51.3, 68.8, 82.0, 109.3]);
}

#[test]
fn gaps_on_the_cello_shrink_up_the_string() {
    let fingers = [Finger::One, Finger::Two, Finger::Three, Finger::Four];
    let places = positions(Cello, 690.0, &MarkerSettings::default(), &fingers, &BTreeMap::new()).expect("a layout");
    let gaps: Vec<f64> = places.iter().map(|place| tenths(place.gap_mm)).collect();
    assert_eq!(gaps, [75.3, 34.5, 32.6, 30.7]);
}

#[test]
fn the_strip_lies_with_its_edge_or_its_middle_on_the_line_and_the_offset_moves_it_to_the_nut() {
    let edge = |align, offset_mm| {
        let settings = MarkerSettings { align, strip_mm: 4.0, offset_mm, ..MarkerSettings::default() };
        edge_mm(&settings, 50.0)
    };
    let edges = [Align::NutEdge, Align::Middle, Align::BridgeEdge].map(|align| tenths(edge(align, 0.0)).to_string());
    assert_eq!(edges, ["50", "48", "46"]);
    assert!((edge(Align::Middle, 1.5) - 46.5).abs() < 1e-12);
}

#[test]
fn a_measured_marker_is_told_in_cents_and_in_millimetres_with_direction() {
    let settings = MarkerSettings::default();
    let verdict = |edge: f64| {
        let measured = [(Finger::One, edge)].into();
        let places = positions(Violin, 328.0, &settings, &[Finger::One], &measured).expect("a layout");
        let measured = places[0].measured.expect("measured");
        (tenths(measured.cents), measured.verdict, tenths(measured.move_mm))
    };
    // The pitch line is at 35.8, so the strip's edge belongs to 34.3.
    assert_eq!(verdict(34.3), (0.1, Verdict::True, 0.0));
    assert_eq!(verdict(36.3), (12.0, Verdict::Close, -2.0));
    assert_eq!(verdict(31.3), (-17.6, Verdict::Move, 3.0));
}

#[test]
fn what_cannot_be_is_refused_with_a_plain_word() {
    use Finger::{Four, One, Three};
    let ask = |length: f64, fingers: &[Finger], measured: &[(Finger, f64)]| {
        let measured = measured.iter().copied().collect();
        positions(Viola, length, &MarkerSettings::default(), fingers, &measured).expect_err("refused")
    };
    assert_eq!(ask(149.9, &[One], &[]), LayoutFault::Length);
    assert_eq!(ask(1300.1, &[One], &[]), LayoutFault::Length);
    assert_eq!(ask(f64::NAN, &[One], &[]), LayoutFault::Length);
    assert_eq!(ask(f64::INFINITY, &[One], &[]), LayoutFault::Length);
    assert_eq!(ask(332.0, &[Finger::Stretched4], &[]), LayoutFault::Finger(Viola, Finger::Stretched4));
    assert_eq!(ask(332.0, &[One, One], &[]), LayoutFault::Twice(One));
    assert_eq!(ask(332.0, &[One], &[(One, 340.0)]), LayoutFault::Outside(One, 332.0));
    assert_eq!(ask(332.0, &[One], &[(One, -1.0)]), LayoutFault::Outside(One, 332.0));
    assert_eq!(ask(332.0, &[One], &[(One, f64::NAN)]), LayoutFault::Outside(One, 332.0));
    assert_eq!(ask(332.0, &[One, Three], &[(One, 82.0), (Three, 36.0)]), LayoutFault::Order(One, Three));
    assert_eq!(ask(332.0, &[One], &[(Four, 100.0)]), LayoutFault::NotAsked(Four));
    assert_eq!(
        LayoutFault::Order(One, Three).to_string(),
        "Marker 3 is nearer the nut than marker 1: one of the two was read or typed wrongly."
    );
    let settings = |change: fn(&mut MarkerSettings)| {
        let mut settings = MarkerSettings::default();
        change(&mut settings);
        settings.check().expect_err("refused")
    };
    assert_eq!(settings(|settings| settings.strip_mm = 1.9), SettingsFault::Strip);
    assert_eq!(settings(|settings| settings.offset_mm = 5.1), SettingsFault::Offset);
    assert_eq!(
        settings(|settings| settings.tolerance = Tolerance { true_cents: 8.0, close_cents: 4.0 }),
        SettingsFault::Tolerance
    );
    assert_eq!(settings(|settings| settings.a4_hz = 415.0), SettingsFault::A4);
}

/// `1 on D: octave below open E`.
fn lines(instrument: Instrument, finger: Finger) -> Vec<String> {
    let facts = &content().instruments[&instrument];
    let letter = |string: usize| facts.strings[string].note.chars().next().expect("a letter");
    let checks = ear_checks(facts, finger.semitones(instrument).expect("a finger of it"));
    let words =
        |check: &EarCheck| format!("on {}: {} of {}", letter(check.string), check.relation.words(), letter(check.open));
    checks.iter().map(words).collect()
}

#[test]
fn comparisons_with_open_strings_are_found_from_the_tuning_nearest_first() {
    use Finger::{Four, One, Three, Two};
    assert_eq!(lines(Violin, Three), ["on D: octave above of G", "on A: octave above of D", "on E: octave above of A"]);
    assert_eq!(lines(Violin, Four), ["on G: unison of D", "on D: unison of A", "on A: unison of E"]);
    assert_eq!(lines(Violin, One), ["on G: octave below of A", "on D: octave below of E"]);
    assert!(lines(Violin, Two).is_empty());
    assert_eq!(lines(Cello, Four), ["on G: octave above of C", "on D: octave above of G", "on A: octave above of D"]);
    assert!(lines(Cello, Three).is_empty());
    assert_eq!(lines(Cello, Two), ["on A: two octaves above of C"]);
    assert_eq!(lines(Bass, One), ["on D: octave above of E", "on G: octave above of A"]);
    assert!(lines(Bass, Four).is_empty());
    assert_eq!(lines(Viola, Three), ["on G: octave above of C", "on D: octave above of G", "on A: octave above of D"]);
}

#[test]
fn what_has_no_open_string_to_compare_with_is_found_by_steps_from_a_proved_marker() {
    use Finger::{Four, One, Three, Two};
    let step = |instrument, finger, among: &[Finger]| {
        step_check(&content().instruments[&instrument], finger, among).map(|step| (step.from, step.semitones))
    };
    assert_eq!(step(Violin, Two, &[One, Two, Three]), Some((Three, -1)));
    assert_eq!(step(Violin, Two, &[One, Two]), Some((One, 2)));
    assert_eq!(step(Cello, Three, &[One, Three, Four]), Some((Four, -1)));
    assert_eq!(step(Bass, Four, &[One, Two, Four]), Some((Two, 1)));
    assert_eq!(step(Bass, Four, &[One, Four]), Some((One, 2)));
    // Alone it needs a reference tone; with an open string to compare with it needs no step.
    assert_eq!(step(Violin, Two, &[Two]), None);
    assert_eq!(step(Violin, Three, &[One, Three]), None);
}

#[test]
fn the_anchor_comes_first_and_what_is_found_by_steps_last() {
    use Finger::{Four, One, Three, Two};
    let order = |instrument: Instrument, fingers: &[Finger]| {
        let facts = &content().instruments[&instrument];
        placing_order(facts, fingers).iter().map(|finger| finger.id()).collect::<Vec<_>>().join(" ")
    };
    assert_eq!(order(Violin, &[One, Two, Three]), "3 1 2");
    assert_eq!(order(Viola, &[One, Two, Three, Four]), "3 1 4 2");
    assert_eq!(order(Cello, &[One, Three, Four]), "4 1 3");
    assert_eq!(order(Bass, &[One, Two, Four]), "1 2 4");
}

#[test]
fn open_strings_follow_a4_by_semitones_or_by_pure_steps_from_the_a() {
    let hz = |instrument: Instrument, temperament, a4_hz| {
        let settings = MarkerSettings { temperament, a4_hz, ..MarkerSettings::default() };
        let facts = content().instruments[&instrument].clone();
        (0..4).map(|string| tenths(open_hz(&facts, string, &settings))).collect::<Vec<_>>()
    };
    assert_eq!(hz(Violin, EQUAL, 440.0), [196.0, 293.7, 440.0, 659.3]);
    assert_eq!(hz(Violin, PURE, 440.0), [195.6, 293.3, 440.0, 660.0]);
    assert_eq!(hz(Bass, EQUAL, 440.0), [41.2, 55.0, 73.4, 98.0]);
    assert_eq!(hz(Bass, PURE, 440.0), [41.3, 55.0, 73.3, 97.8]);
    assert_eq!(hz(Cello, EQUAL, 442.0), [65.7, 98.4, 147.5, 221.0]);
}

#[test]
fn a_moved_bridge_moves_every_target_in_proportion() {
    let fingers = [Finger::One, Finger::Two, Finger::Three];
    let shifted = bridge_shift(Violin, 328.0, 4.0, &MarkerSettings::default(), &fingers).expect("a shift");
    let lines: Vec<_> =
        shifted.iter().map(|marker| (tenths(marker.target_moved_mm), tenths(marker.cents), marker.verdict)).collect();
    assert_eq!(lines, [(0.4, -2.6, Verdict::True), (0.8, -5.4, Verdict::True), (1.0, -7.0, Verdict::Close)]);
    assert_eq!(bridge_shift(Violin, 328.0, -200.0, &MarkerSettings::default(), &fingers), Err(LayoutFault::Length));
}

#[test]
fn two_frequencies_tell_the_note_the_cents_and_the_move() {
    let heard = heard_error(328.0, 293.66, 331.5, EQUAL).expect("a note");
    assert_eq!((heard.semitones, tenths(heard.cents), tenths(heard.move_mm)), (2, 9.8, -1.7));
    assert_eq!(heard_error(328.0, 293.66, 293.66, EQUAL), None);
    assert_eq!(heard_error(328.0, 0.0, 100.0, EQUAL), None);
    assert_eq!(heard_error(328.0, 293.66, 900.0, EQUAL), None);
}

#[test]
fn the_offset_is_learned_from_five_instruments_on() {
    assert_eq!(propose_offset(0.0, &[-1.0, -1.2, -0.8, -1.1]), None);
    let five = propose_offset(0.5, &[-1.0, -1.2, 0.3, -0.8, -1.1]).expect("a proposal");
    assert!((five.offset_mm - 1.5).abs() < 1e-12, "{}", five.offset_mm);
    assert_eq!((five.least_move_mm, five.most_move_mm, five.instruments), (-1.2, 0.3, 5));
    assert_eq!(median(&[1.0, 2.0, 4.0, 9.0]), Some(3.0));
}

#[test]
fn spots_are_read_from_their_ids_and_only_where_they_belong() {
    for id in ["low1", "1", "low2", "2", "x2", "3", "4", "x4", "thumb", "line"] {
        assert_eq!(Spot::parse(id).map(Spot::id), Some(id));
    }
    assert_eq!(Spot::parse("5"), None);
    assert!(!Spot::Thumb.is_on(Violin) && Spot::Thumb.is_on(Bass));
    assert!(!Spot::Finger(Finger::Three).is_on(Bass));
}

fn instruments() -> impl Strategy<Value = Instrument> {
    prop::sample::select(Instrument::ALL.to_vec())
}

fn temperaments() -> impl Strategy<Value = Temperament> {
    prop::sample::select(vec![EQUAL, PURE])
}

proptest! {
    #[test]
    fn positions_grow_and_never_pass_the_bridge(on in instruments(), length in 150.0..1300.0_f64, how in temperaments()) {
        let settings = MarkerSettings { temperament: how, ..MarkerSettings::default() };
        let places = positions(on, length, &settings, Finger::of(on), &BTreeMap::new()).expect("a layout");
        let mut before = 0.0;
        for place in &places {
            prop_assert!(place.distance_mm >= before && place.distance_mm < length);
            prop_assert!((place.gap_mm - (place.distance_mm - before)).abs() < 1e-9);
            before = place.distance_mm;
        }
        let sum: f64 = places.iter().map(|place| place.gap_mm).sum();
        prop_assert!((sum - before).abs() < 1e-9);
    }

    #[test]
    fn millimetres_become_cents_and_come_back(length in 150.0..1300.0_f64, semitones in 1..8_u8, at in 0.01..0.6_f64) {
        let line = distance_mm(length, semitones, EQUAL);
        let stopped = at * length;
        let back = stopped_at_mm(length, line, cents_off(length, line, stopped));
        prop_assert!((back - stopped).abs() < 1e-9);
    }

    #[test]
    fn an_edge_stops_the_string_where_its_line_was(line in 1.0..500.0_f64, strip_mm in 2.0..6.0_f64, offset_mm in -5.0..5.0_f64, which in 0..3_usize) {
        let align = [Align::NutEdge, Align::Middle, Align::BridgeEdge][which];
        let settings = MarkerSettings { align, strip_mm, offset_mm, ..MarkerSettings::default() };
        prop_assert!((stops_at_mm(&settings, edge_mm(&settings, line)) - line).abs() < 1e-9);
    }

    #[test]
    fn a_marker_on_its_target_is_true_and_sharp_is_positive(on in instruments(), length in 150.0..1300.0_f64, off in -8.0..8.0_f64) {
        let finger = Finger::of(on)[1];
        let target = positions(on, length, &MarkerSettings::default(), &[finger], &BTreeMap::new()).expect("a layout")[0].edge_mm;
        prop_assume!(target + off > 0.0);
        let measured = [(finger, target + off)].into();
        let place = positions(on, length, &MarkerSettings::default(), &[finger], &measured).expect("a layout")[0];
        let measured = place.measured.expect("measured");
        prop_assert!((measured.move_mm + off).abs() < 1e-9);
        prop_assert!(off.abs() < 1e-6 || (measured.cents > 0.0) == (off > 0.0));
        // The slope at the line is what a small miss costs.
        prop_assert!(off.abs() > 0.2 || (measured.cents * place.mm_per_cent - off).abs() < 0.01);
    }

    #[test]
    fn distances_do_not_depend_on_the_tuning_note(a4_hz in 430.0..450.0_f64, on in instruments(), string in 0..4_usize) {
        let settings = MarkerSettings { a4_hz, ..MarkerSettings::default() };
        let plain = positions(on, 400.0, &MarkerSettings::default(), Finger::of(on), &BTreeMap::new());
        prop_assert_eq!(positions(on, 400.0, &settings, Finger::of(on), &BTreeMap::new()), plain);
        let facts = content().instruments[&on].clone();
        let ratio = open_hz(&facts, string, &settings) / open_hz(&facts, string, &MarkerSettings::default());
        prop_assert!((ratio - a4_hz / 440.0).abs() < 1e-12);
    }

    #[test]
    fn a_comparison_is_the_same_heard_from_either_string(on in instruments(), which in 0..6_usize) {
        let facts = content().instruments[&on].clone();
        let finger = Finger::of(on)[which % Finger::of(on).len()];
        let semitones = finger.semitones(on).expect("a finger of it");
        let notes = stopped_notes(&facts, semitones, &MarkerSettings::default());
        for check in ear_checks(&facts, semitones) {
            let octaves = f64::from(check.relation.0);
            let open = open_hz(&facts, check.open, &MarkerSettings::default());
            // So many octaves above the open string is so many below from the stopped one.
            prop_assert!((notes[check.string].hz / open - octaves.exp2()).abs() < 1e-9);
            prop_assert!((open / notes[check.string].hz - (-octaves).exp2()).abs() < 1e-9);
            prop_assert_eq!(Relation(-check.relation.0).words() == check.relation.words(), check.relation.0 == 0);
        }
    }

    #[test]
    fn every_whole_octave_or_unison_with_an_open_string_is_found(on in instruments(), which in 0..6_usize) {
        let facts = content().instruments[&on].clone();
        let finger = Finger::of(on)[which % Finger::of(on).len()];
        let semitones = finger.semitones(on).expect("a finger of it");
        let found = ear_checks(&facts, semitones);
        let all = facts.strings.iter().flat_map(|string| {
            facts.strings.iter().filter(move |open| (string.midi + semitones).abs_diff(open.midi) % 12 == 0)
        });
        prop_assert_eq!(found.len(), all.count());
        prop_assert!(found.is_sorted_by_key(|check| check.relation.0.unsigned_abs()));
    }

    #[test]
    fn a_heard_error_moves_the_marker_back_to_its_line(length in 150.0..1300.0_f64, semitones in 1..8_u8, cents in -45.0..45.0_f64) {
        let open = 196.0;
        let stopped = open * EQUAL.ratio(semitones) * (cents / 1200.0).exp2();
        let heard = heard_error(length, open, stopped, EQUAL).expect("a note");
        let line = distance_mm(length, semitones, EQUAL);
        prop_assert_eq!(heard.semitones, semitones);
        prop_assert!((heard.cents - cents).abs() < 1e-6);
        prop_assert!((stopped_at_mm(length, line, cents) + heard.move_mm - line).abs() < 1e-9);
    }

    #[test]
    fn a_bridge_shift_is_a_layout_of_the_new_length(length in 250.0..1200.0_f64, moved in -20.0..20.0_f64, how in temperaments(), on in instruments()) {
        let settings = MarkerSettings { temperament: how, ..MarkerSettings::default() };
        let fingers = Finger::of(on);
        let shifted = bridge_shift(on, length, moved, &settings, fingers).expect("a shift");
        let before = positions(on, length, &settings, fingers, &BTreeMap::new()).expect("a layout");
        let after = positions(on, length + moved, &settings, fingers, &BTreeMap::new()).expect("a layout");
        for ((marker, was), is) in shifted.iter().zip(before).zip(after) {
            prop_assert!((is.distance_mm - was.distance_mm - marker.target_moved_mm).abs() < 1e-9);
        }
    }
}
