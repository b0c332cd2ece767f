//! Numbers as they are shown and stored: one function for each kind of rounding.

/// To one place, halves up: what screens and templates show of a length in millimetres.
#[must_use]
pub fn tenths(value: f64) -> f64 {
    (value * 10.0 + 0.5 + 1e-9).floor() / 10.0
}

/// To the nearest ten, halves up: seat heights.
#[must_use]
pub fn tens(value: f64) -> f64 {
    ((value / 10.0) + 0.5 + 1e-9).floor() * 10.0
}

/// A number that is whole and not negative already, as an integer; what does not fit becomes the nearest that does.
#[must_use]
pub fn whole(value: f64) -> u32 {
    // No conversion between float and integer in the standard library is checked; text is, and this is never hot.
    let clamped = value.round().clamp(0.0, f64::from(u32::MAX));
    format!("{clamped:.0}").parse().unwrap_or(0)
}

/// A share of one, to three places: finer than any screen.
#[must_use]
pub fn share(value: f64) -> f64 {
    (value * 1000.0).round() / 1000.0
}

/// Serializes a [`share`].
// Serde calls it with a reference.
#[allow(clippy::trivially_copy_pass_by_ref)]
pub(crate) fn as_share<S: serde::Serializer>(value: &f64, to: S) -> Result<S::Ok, S::Error> {
    to.serialize_f64(share(*value))
}

/// One inch.
pub const MM_PER_INCH: f64 = 25.4;
/// A length as people read it: whole millimetres, or one place where there is one.
#[must_use]
pub fn shown(mm: f64) -> String {
    let tenths = tenths(mm);
    if (tenths - tenths.round()).abs() < 1e-9 { format!("{tenths:.0}") } else { format!("{tenths:.1}") }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn halves_go_up() {
        assert!((tenths(68.75) - 68.8).abs() < 1e-12);
        assert!((tenths(51.25) - 51.3).abs() < 1e-12);
        assert!((tenths(82.04) - 82.0).abs() < 1e-12);
        assert!((tens(335.0) - 340.0).abs() < 1e-12);
        assert!((tens(334.9) - 330.0).abs() < 1e-12);
    }

    #[test]
    fn whole_numbers_are_kept_and_impossible_ones_clamped() {
        assert_eq!(whole(88.0), 88);
        assert_eq!(whole(-3.0), 0);
        assert_eq!(whole(1e20), u32::MAX);
        assert_eq!(whole(f64::NAN), 0);
    }
}
