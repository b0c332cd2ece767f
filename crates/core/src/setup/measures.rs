//! What is measured on a child, within which bounds, and when again.

use chrono::NaiveDate;
use serde::{Deserialize, Serialize};

use crate::craft::instrument::Instrument;
use crate::number::{MM_PER_INCH, shown};
use crate::worded::worded;

/// After so many days a child is measured again.
pub const REMEASURE_AFTER_DAYS: i64 = 60;

worded! {
    /// Something measured on a child, in millimetres; in the order in which they are taken.
    Measure {
        /// From the side of the neck to the middle of the palm, outstretched.
        Arm = "armMm",
        /// Standing height.
        Height = "heightMm",
        /// From the tip of finger 1 to the tip of finger 4, stretched.
        Span = "spanMm",
        /// From the floor to the crease behind the knee.
        Knee = "kneeMm",
        /// From the floor to the lips, standing.
        Lip = "lipMm",
        /// From the floor to the forehead, standing.
        Forehead = "foreheadMm",
    }
}

/// A measure that cannot be a child's.
#[derive(Clone, Copy, Debug, PartialEq, thiserror::Error)]
pub struct MeasureError {
    /// What was measured.
    pub measure: Measure,
    /// What was typed.
    pub mm: f64,
}

impl std::fmt::Display for MeasureError {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        let (low, high) = self.measure.range_mm();
        if !self.mm.is_finite() {
            return write!(f, "Type a number, {low} to {high} mm.");
        }
        write!(f, "{} mm cannot be: {} is {low} to {high} mm.", shown(self.mm), self.measure.article())?;
        let from_inches = self.mm * MM_PER_INCH;
        if (low..=high).contains(&from_inches) {
            write!(f, " In inches it would be {from_inches:.0} mm.")?;
        }
        let from_cm = self.mm * 10.0;
        if (low..=high).contains(&from_cm) {
            write!(f, " In centimetres it would be {from_cm:.0} mm.")?;
        }
        Ok(())
    }
}

impl Measure {
    /// What a child of school age can have, in millimetres, both ends included.
    #[must_use]
    pub const fn range_mm(self) -> (f64, f64) {
        match self {
            Self::Arm => (250.0, 850.0),
            Self::Height => (800.0, 2100.0),
            Self::Span => (60.0, 260.0),
            Self::Knee => (200.0, 650.0),
            Self::Lip => (650.0, 1980.0),
            Self::Forehead => (740.0, 2060.0),
        }
    }

    const fn article(self) -> &'static str {
        match self {
            Self::Arm => "an arm",
            Self::Height => "a height",
            Self::Span => "a finger span",
            Self::Knee => "a knee height",
            Self::Lip => "a lip height",
            Self::Forehead => "a forehead height",
        }
    }

    /// The measure itself, if it can be a child's.
    ///
    /// # Errors
    /// [`MeasureError`], with what it would be if it was typed in inches or centimetres.
    pub fn check(self, mm: f64) -> Result<f64, MeasureError> {
        let (low, high) = self.range_mm();
        if (low..=high).contains(&mm) { Ok(mm) } else { Err(MeasureError { measure: self, mm }) }
    }
}

/// What is known of a child's measures, in millimetres, each checked by [`Measure::check`].
#[serde_with::skip_serializing_none]
#[derive(Clone, Copy, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct Measures {
    /// [`Measure::Arm`].
    pub arm_mm: Option<f64>,
    /// [`Measure::Height`].
    pub height_mm: Option<f64>,
    /// [`Measure::Span`].
    pub span_mm: Option<f64>,
    /// [`Measure::Knee`].
    pub knee_mm: Option<f64>,
    /// [`Measure::Lip`].
    pub lip_mm: Option<f64>,
    /// [`Measure::Forehead`].
    pub forehead_mm: Option<f64>,
}

impl Measures {
    /// One of them.
    #[must_use]
    pub const fn get(&self, measure: Measure) -> Option<f64> {
        match measure {
            Measure::Arm => self.arm_mm,
            Measure::Height => self.height_mm,
            Measure::Span => self.span_mm,
            Measure::Knee => self.knee_mm,
            Measure::Lip => self.lip_mm,
            Measure::Forehead => self.forehead_mm,
        }
    }

    /// The place of one of them.
    pub const fn get_mut(&mut self, measure: Measure) -> &mut Option<f64> {
        match measure {
            Measure::Arm => &mut self.arm_mm,
            Measure::Height => &mut self.height_mm,
            Measure::Span => &mut self.span_mm,
            Measure::Knee => &mut self.knee_mm,
            Measure::Lip => &mut self.lip_mm,
            Measure::Forehead => &mut self.forehead_mm,
        }
    }
}

/// The measures an instrument needs, in the order in which they are taken, by the class's option of setting the pin.
#[must_use]
pub fn wanted_measures(instrument: Instrument, pin: &str) -> &'static [Measure] {
    match instrument {
        Instrument::Violin | Instrument::Viola => &[Measure::Arm, Measure::Height],
        Instrument::Cello if pin == "standing" => &[Measure::Height, Measure::Span, Measure::Knee, Measure::Lip],
        Instrument::Cello => &[Measure::Height, Measure::Span, Measure::Knee],
        Instrument::Bass => &[Measure::Height, Measure::Forehead],
    }
}

/// Whether a child is to be measured (again): never measured, or [`REMEASURE_AFTER_DAYS`] days ago or more.
#[must_use]
pub fn wants_measuring(last: Option<NaiveDate>, today: NaiveDate) -> bool {
    last.is_none_or(|last| (today - last).num_days() >= REMEASURE_AFTER_DAYS)
}
