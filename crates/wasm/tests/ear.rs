//! Samples in, numbers out: what the audio thread of a page gets.

use bright_row_core::craft::instrument::Instrument;
use bright_row_core::listening::string::{Act, StringSound, Touch};
use bright_row_wasm::ear::{Ear, NUMBERS};
use proptest::prelude::*;

const VIOLIN: [f64; 4] = [196.0, 293.66, 440.0, 659.26];

fn bytes(samples: &[f32]) -> Vec<u8> {
    samples.iter().flat_map(|sample| sample.to_le_bytes()).collect()
}

#[test]
fn a_string_is_heard_with_its_place_its_cents_and_what_to_do() {
    let low = 293.66 * (-20.0_f64 / 1_200.0).exp2();
    let samples = StringSound::of(Instrument::Violin, low, Touch::Open, Act::PLUCK, 1).render(44_100.0, 0.5);
    let mut ear = Ear::new(44_100.0, 0, VIOLIN).expect("a usual rate");
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
fn nobody_listens_to_an_instrument_or_a_rate_that_there_is_not() {
    assert!(Ear::new(44_100.0, 4, VIOLIN).is_none());
    assert!(Ear::new(4_000.0, 0, VIOLIN).is_none());
    assert!(Ear::new(f64::NAN, 0, VIOLIN).is_none());
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    #[test]
    fn no_bytes_end_it(bytes in prop::collection::vec(any::<u8>(), 0..20_000), open in prop::array::uniform4(any::<f64>())) {
        let mut ear = Ear::new(8_000.0, 3, open).expect("a usual rate");
        let mut moments = Vec::new();
        ear.hear(&bytes, &mut moments);
        prop_assert!(moments.iter().all(|number| number.is_finite()), "{moments:?}");
    }
}
