//! How a class lays its markers: temperament, what lies on the line, the strip, the offset, and how far off still counts.

use crate::tapes::colour::MarkerColours;
use serde::{Deserialize, Serialize};

/// The narrowest strip of tape, in millimetres.
pub const MIN_STRIP_MM: f64 = 2.0;
/// The widest.
pub const MAX_STRIP_MM: f64 = 6.0;
/// The largest offset either way, in millimetres.
pub const MAX_OFFSET_MM: f64 = 5.0;
/// The lowest A4 that a class tunes to, in hertz.
pub const MIN_A4_HZ: f64 = 430.0;
/// The highest.
pub const MAX_A4_HZ: f64 = 450.0;

/// Why markers cannot be laid so.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
pub enum SettingsFault {
    /// Not a width of tape.
    #[error("A strip is {MIN_STRIP_MM} to {MAX_STRIP_MM} mm wide.")]
    Strip,
    /// Not an offset.
    #[error("The offset is at most {MAX_OFFSET_MM} mm either way.")]
    Offset,
    /// True and close are not in order.
    #[error("True is above 0 cents, close at least as much, and neither above 100.")]
    Tolerance,
    /// Not a tuning.
    #[error("A4 is {MIN_A4_HZ} to {MAX_A4_HZ} Hz.")]
    A4,
}

/// How the octave is divided.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub enum Temperament {
    /// Twelve equal semitones.
    #[default]
    Equal,
    /// Built on pure fifths, as string players tune.
    Pythagorean,
}

impl Temperament {
    /// How much higher a note `semitones` above the open string sounds; Pythagorean ratios up to the fifth, built on
    /// octaves above.
    #[must_use]
    pub fn ratio(self, semitones: u8) -> f64 {
        /// From the unison to the major seventh: a chain of pure fifths, folded into one octave.
        const PURE: [(f64, f64); 12] = [
            (1.0, 1.0),
            (256.0, 243.0),
            (9.0, 8.0),
            (32.0, 27.0),
            (81.0, 64.0),
            (4.0, 3.0),
            (729.0, 512.0),
            (3.0, 2.0),
            (128.0, 81.0),
            (27.0, 16.0),
            (16.0, 9.0),
            (243.0, 128.0),
        ];
        match self {
            Self::Equal => (f64::from(semitones) / 12.0).exp2(),
            Self::Pythagorean => {
                let (above, below) = PURE[usize::from(semitones % 12)];
                above / below * f64::from(semitones / 12).exp2()
            }
        }
    }
}

/// Which part of a strip lies on the computed line.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub enum Align {
    /// Its edge nearer the nut.
    NutEdge,
    /// Its middle.
    #[default]
    Middle,
    /// Its edge nearer the bridge.
    BridgeEdge,
}

impl Align {
    /// How much of the strip's width lies on the nut's side of the line, 0 to 1.
    #[must_use]
    pub const fn share(self) -> f64 {
        match self {
            Self::NutEdge => 0.0,
            Self::Middle => 0.5,
            Self::BridgeEdge => 1.0,
        }
    }
}

/// How markers are laid in a class.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase", default, deny_unknown_fields)]
pub struct MarkerSettings {
    /// How the octave is divided.
    pub temperament: Temperament,
    /// What lies on the line.
    pub align: Align,
    /// Width of a strip, [`MIN_STRIP_MM`] to [`MAX_STRIP_MM`].
    pub strip_mm: f64,
    /// Towards the nut, up to [`MAX_OFFSET_MM`] either way: how fingertips stop the string.
    pub offset_mm: f64,
    /// How far off still counts.
    #[serde(rename = "toleranceCents")]
    pub tolerance: Tolerance,
    /// What the class tunes A4 to, in hertz; distances do not depend on it.
    pub a4_hz: f64,
    /// What colours the markers really have.
    pub colours: MarkerColours,
}

impl Default for MarkerSettings {
    fn default() -> Self {
        Self {
            temperament: Temperament::Equal,
            align: Align::Middle,
            strip_mm: 3.0,
            offset_mm: 0.0,
            tolerance: Tolerance::default(),
            a4_hz: 440.0,
            colours: MarkerColours::default(),
        }
    }
}

/// How far off still counts, in cents.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase", default, deny_unknown_fields)]
pub struct Tolerance {
    /// Up to this a marker is true.
    #[serde(rename = "true")]
    pub true_cents: f64,
    /// Up to this it is close.
    #[serde(rename = "close")]
    pub close_cents: f64,
}

impl Default for Tolerance {
    fn default() -> Self {
        Self { true_cents: 6.0, close_cents: 12.0 }
    }
}

/// What a miss comes to.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub enum Verdict {
    /// Within tolerance.
    True,
    /// Nearly; worth an ear.
    Close,
    /// Wants to be moved.
    Move,
}

impl Tolerance {
    /// The verdict on a miss of so many cents.
    #[must_use]
    pub fn verdict(self, cents: f64) -> Verdict {
        if cents.abs() <= self.true_cents {
            Verdict::True
        } else if cents.abs() <= self.close_cents {
            Verdict::Close
        } else {
            Verdict::Move
        }
    }
}

impl MarkerSettings {
    /// Says what of it cannot be.
    pub fn check(&self) -> Result<(), SettingsFault> {
        let Tolerance { true_cents, close_cents } = self.tolerance;
        if !(MIN_STRIP_MM..=MAX_STRIP_MM).contains(&self.strip_mm) {
            Err(SettingsFault::Strip)
        } else if !(-MAX_OFFSET_MM..=MAX_OFFSET_MM).contains(&self.offset_mm) {
            Err(SettingsFault::Offset)
        } else if !(true_cents > 0.0 && true_cents <= close_cents && close_cents <= 100.0) {
            Err(SettingsFault::Tolerance)
        } else if !(MIN_A4_HZ..=MAX_A4_HZ).contains(&self.a4_hz) {
            Err(SettingsFault::A4)
        } else {
            Ok(())
        }
    }
}
