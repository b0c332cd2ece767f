//! Fit and body set-up: worked cases, and the rule that more never means smaller.

mod support;

use bright_row_core::craft::instrument::Instrument;
use bright_row_core::setup::body::{Pin, body_setup};
use bright_row_core::setup::measures::{Measure, Measures};
use bright_row_core::setup::sizing::{Missing, SizeProposal, SizeReason, propose};
use proptest::prelude::*;

fn fit(instrument: Instrument, measures: Measures) -> SizeProposal {
    propose(&support::content().instruments[&instrument], &measures).expect("the measure that is wanted")
}

fn arm(mm: f64) -> Measures {
    Measures { arm_mm: Some(mm), ..Measures::default() }
}

fn height(mm: f64) -> Measures {
    Measures { height_mm: Some(mm), ..Measures::default() }
}

fn cello(height_mm: f64, span_mm: f64) -> Measures {
    Measures { height_mm: Some(height_mm), span_mm: Some(span_mm), ..Measures::default() }
}

fn size(instrument: Instrument, measures: Measures) -> String {
    fit(instrument, measures).proposed.unwrap_or_default()
}

#[test]
fn a_size_starts_at_its_number() {
    assert_eq!(size(Instrument::Violin, arm(546.0)), "3/4");
    assert_eq!(size(Instrument::Violin, arm(545.9)), "1/2");
    assert_eq!(size(Instrument::Violin, arm(585.0)), "4/4");
    assert_eq!(size(Instrument::Viola, arm(585.0)), "14");
    assert_eq!(size(Instrument::Cello, height(1370.0)), "3/4");
    assert_eq!(size(Instrument::Bass, height(1459.0)), "1/4");
}

#[test]
fn seven_eighths_of_a_violin_and_the_largest_basses_are_never_proposed() {
    for mm in 350..850 {
        assert_ne!(size(Instrument::Violin, arm(f64::from(mm))), "7/8");
    }
    assert_eq!(size(Instrument::Bass, height(2000.0)), "3/4");
}

#[test]
fn just_below_the_next_size_a_child_is_between_sizes_and_the_day_of_the_larger_is_told() {
    let proposal = fit(Instrument::Violin, arm(540.0));
    assert_eq!((proposal.proposed.as_deref(), proposal.between), (Some("1/2"), true));
    assert_eq!((proposal.larger.as_deref(), proposal.larger_from_mm), (Some("3/4"), Some(546.0)));
    // 6 mm at 25 mm a year.
    assert_eq!(proposal.reaches_larger_in_days, Some(88));
    assert!(!fit(Instrument::Violin, arm(535.9)).between);
    assert!(fit(Instrument::Violin, arm(536.0)).between);
    let by_height = fit(Instrument::Bass, height(1445.0));
    // 15 mm at 60 mm a year.
    assert_eq!((by_height.between, by_height.reaches_larger_in_days), (true, Some(92)));
    assert!(!fit(Instrument::Bass, height(1439.0)).between);
}

#[test]
fn on_the_cello_the_span_decides_between_two_sizes() {
    assert_eq!(size(Instrument::Cello, cello(1360.0, 135.0)), "3/4");
    assert_eq!(size(Instrument::Cello, cello(1360.0, 134.0)), "1/2");
    assert_eq!(size(Instrument::Cello, cello(1340.0, 150.0)), "1/2", "not near the next size");
}

#[test]
fn each_reason_gives_what_its_sentence_needs() {
    let reason = |proposal: SizeProposal| proposal.reason;
    let measure = Measure::Arm;
    assert_eq!(
        reason(fit(Instrument::Violin, arm(560.0))),
        SizeReason::FromOn { measure, value_mm: 560.0, from_mm: 546.0 }
    );
    let between = fit(Instrument::Violin, arm(540.0));
    assert_eq!((between.larger.as_deref(), between.larger_from_mm), (Some("3/4"), Some(546.0)));
    assert_eq!(reason(between), SizeReason::Between { measure, value_mm: 540.0, from_mm: 508.0 });
    let measure = Measure::Height;
    let spans =
        SizeReason::SpanReaches { measure, value_mm: 1360.0, from_mm: 1370.0, span_mm: 136.5, span_from_mm: 135.0 };
    assert_eq!(reason(fit(Instrument::Cello, cello(1360.0, 136.5))), spans);
    let small =
        SizeReason::TooSmall { measure, value_mm: 1050.0, smallest: Some("1/10".to_owned()), from_mm: Some(1100.0) };
    assert_eq!(reason(fit(Instrument::Bass, height(1050.0))), small);
}

#[test]
fn a_missing_measure_is_named() {
    let content = support::content();
    let ask = |instrument| propose(&content.instruments[&instrument], &Measures::default());
    assert_eq!(ask(Instrument::Viola), Err(Missing(Measure::Arm)));
    assert_eq!(ask(Instrument::Cello), Err(Missing(Measure::Height)));
}

#[test]
fn what_cannot_be_a_childs_is_told_with_what_was_probably_meant() {
    let lines = |measure: Measure, mm: f64| measure.check(mm).expect_err("impossible").to_string();
    let all = [
        lines(Measure::Height, 15_000.0),
        lines(Measure::Height, 54.0),
        lines(Measure::Height, 140.0),
        lines(Measure::Arm, f64::NAN),
    ];
    insta::assert_snapshot!(all.join("\n"), @r"
    15000 mm cannot be: a height is 800 to 2100 mm.
    54 mm cannot be: a height is 800 to 2100 mm. In inches it would be 1372 mm.
    140 mm cannot be: a height is 800 to 2100 mm. In centimetres it would be 1400 mm.
    Type a number, 250 to 850 mm.
    ");
}

#[test]
fn the_set_up_begins_with_the_measured_body_and_falls_back_on_the_height() {
    let content = support::content();
    let cello = &content.instruments[&Instrument::Cello];
    let known = Measures { knee_mm: Some(364.0), lip_mm: Some(1250.0), height_mm: Some(1400.0), ..Measures::default() };
    let measured = body_setup(cello, "1/2", &known);
    assert_eq!((measured.seat_mm, measured.pin), (Some(360.0), Some(Pin::Out(220.0))));
    assert!(!measured.seat_from_height && !measured.pin_from_height);
    let estimated = body_setup(cello, "1/2", &height(1400.0));
    assert_eq!((estimated.seat_mm, estimated.pin), (Some(350.0), Some(Pin::Out(225.0))));
    assert!(estimated.seat_from_height && estimated.pin_from_height);
}

#[test]
fn a_pin_that_cannot_be_says_which_size_to_try() {
    let content = support::content();
    let pin = |instrument: Instrument, size: &str, mm: f64| {
        body_setup(&content.instruments[&instrument], size, &height(mm)).pin
    };
    // 1175 - 145 - 1030 = 0; 1155 gives -20; 1154 -21; 1475 gives 300; 1476 gives 301.
    assert_eq!(pin(Instrument::Cello, "1/2", 1175.0), Some(Pin::AllTheWayIn));
    assert_eq!(pin(Instrument::Cello, "1/2", 1155.0), Some(Pin::AllTheWayIn));
    assert_eq!(pin(Instrument::Cello, "1/2", 1154.0), Some(Pin::SmallerSize));
    assert_eq!(pin(Instrument::Cello, "1/2", 1475.0), Some(Pin::Out(300.0)));
    assert_eq!(pin(Instrument::Cello, "1/2", 1476.0), Some(Pin::LargerSize));
    // 1495 - 90 - 1305 = 100: the nut at the eyebrow.
    assert_eq!(pin(Instrument::Bass, "1/4", 1495.0), Some(Pin::Out(100.0)));
    assert_eq!(pin(Instrument::Violin, "1/2", 1400.0), None);
}

proptest! {
    #[test]
    fn a_longer_arm_never_means_a_smaller_size(mm in 350.0..850.0_f64, more in 0.0..200.0_f64) {
        let content = support::content();
        for instrument in [Instrument::Violin, Instrument::Viola] {
            let sizes = &content.instruments[&instrument].sizes;
            let place = |measures| {
                let proposed = propose(&content.instruments[&instrument], &measures).expect("an arm").proposed;
                proposed.map_or(sizes.len(), |name| sizes.iter().position(|size| size.name == name).expect("a size"))
            };
            prop_assert!(place(arm(mm + more)) <= place(arm(mm)));
        }
    }
}
