//! Which size fits a child: proposed from a measure, with its reason. The shop and the child's comfort decide.
//!
//! Sizes start at their number, inclusive. Just below the next larger size a child is between sizes: the smaller is
//! proposed and the larger named with the day by which growth would reach it; on the cello the finger span decides.

use crate::instrument::{InstrumentFacts, MainMeasure, Size};

/// Something measured on a child, in millimetres.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum Measure {
    /// From the side of the neck to the middle of the palm, outstretched.
    Arm,
    /// Standing height.
    Height,
    /// From the tip of finger 1 to the tip of finger 4, stretched.
    Span,
    /// From the floor to the crease behind the knee.
    Knee,
    /// From the floor to the lips, standing.
    Lip,
    /// From the floor to the forehead, standing.
    Forehead,
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

/// One inch.
pub const MM_PER_INCH: f64 = 25.4;
/// A string's length farther than this share from what is usual for its size was mistyped, or the size is another.
pub const FAR_LENGTH: f64 = 0.15;
/// How much the outstretched arm grows in a year, in millimetres.
pub const ARM_GROWTH_MM: f64 = 25.0;
/// How much a child grows in a year, in millimetres.
pub const HEIGHT_GROWTH_MM: f64 = 60.0;
/// So far below the next larger size an arm is between sizes.
pub const BETWEEN_ARM_MM: f64 = 10.0;
/// So far below the next larger size a height is between sizes.
pub const BETWEEN_HEIGHT_MM: f64 = 20.0;
/// After so many days a child is measured again.
pub const REMEASURE_AFTER_DAYS: i64 = 60;
const DAYS_A_YEAR: f64 = 365.0;

impl Measure {
    /// Every measure, in the order in which they are taken.
    pub const ALL: [Self; 6] = [Self::Arm, Self::Height, Self::Span, Self::Knee, Self::Lip, Self::Forehead];

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
#[derive(Clone, Copy, Debug, Default, PartialEq)]
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

/// The size proposed for a child.
#[derive(Clone, Debug, PartialEq)]
pub struct Proposal {
    /// The size; `None` when the child is too small for any.
    pub proposed: Option<String>,
    /// Just below the next larger size.
    pub between: bool,
    /// The next larger size, when between.
    pub larger: Option<String>,
    /// Where the larger size begins, in millimetres.
    pub larger_from_mm: Option<f64>,
    /// In how many days growth would reach it.
    pub reaches_larger_in_days: Option<u32>,
    /// Why, in a sentence.
    pub reason: String,
}

/// The measure without which no size can be proposed.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Missing(pub Measure);

/// Proposes a size of this instrument.
///
/// # Errors
/// [`Missing`] names the measure that is wanted.
pub fn propose(facts: &InstrumentFacts, measures: &Measures) -> Result<Proposal, Missing> {
    let (measure, near, growth) = match facts.measure {
        MainMeasure::Arm => (Measure::Arm, BETWEEN_ARM_MM, ARM_GROWTH_MM),
        MainMeasure::Height => (Measure::Height, BETWEEN_HEIGHT_MM, HEIGHT_GROWTH_MM),
    };
    let value = measures.get(measure).ok_or(Missing(measure))?;
    let word = if measure == Measure::Arm { "Arm" } else { "Height" };
    // Largest first, as in the content.
    let sizes: Vec<(&Size, f64)> = facts.sizes.iter().filter_map(|size| Some((size, size.from_mm?))).collect();
    let fits = sizes.iter().position(|(_, from)| value >= *from);
    let Some(index) = fits else {
        return Ok(too_small(word, value, sizes.last()));
    };
    let (size, from) = sizes[index];
    let larger = index.checked_sub(1).map(|index| sizes[index]).filter(|(_, from)| from - value <= near);
    let Some((larger, larger_from)) = larger else {
        let reason = format!("{word} of {} mm: {} is from {from} mm on.", shown(value), size.name);
        return Ok(Proposal::plain(&size.name, reason));
    };
    if let (Some(span), Some(span_from)) = (measures.span_mm, larger.span_from_mm)
        && span >= span_from
    {
        let reason = format!(
            "{word} of {} mm is just below {} (from {larger_from} mm), and the span of {} mm reaches it (from {span_from} mm).",
            shown(value),
            larger.name,
            shown(span)
        );
        return Ok(Proposal::plain(&larger.name, reason));
    }
    Ok(Proposal {
        proposed: Some(size.name.clone()),
        between: true,
        larger: Some(larger.name.clone()),
        larger_from_mm: Some(larger_from),
        reaches_larger_in_days: Some(days_to_grow(larger_from - value, growth)),
        reason: format!(
            "{word} of {} mm: {} is from {from} mm on, {} from {larger_from} mm. Between two sizes take the smaller.",
            shown(value),
            size.name,
            larger.name
        ),
    })
}

impl Proposal {
    fn plain(size: &str, reason: String) -> Self {
        Self {
            proposed: Some(size.to_owned()),
            between: false,
            larger: None,
            larger_from_mm: None,
            reaches_larger_in_days: None,
            reason,
        }
    }
}

fn too_small(word: &str, value: f64, smallest: Option<&(&Size, f64)>) -> Proposal {
    let below = smallest.map(|(size, from)| format!(" is below the smallest size ({}, from {from} mm)", size.name));
    Proposal {
        proposed: None,
        between: false,
        larger: smallest.map(|(size, _)| size.name.clone()),
        larger_from_mm: smallest.map(|(_, from)| *from),
        reaches_larger_in_days: None,
        reason: format!("{word} of {} mm{}: too small to fit, ask the shop.", shown(value), below.unwrap_or_default()),
    }
}

/// Whole days until something has grown by `mm` at `mm_a_year`, rounded up.
fn days_to_grow(mm: f64, mm_a_year: f64) -> u32 {
    let days = (mm / mm_a_year * DAYS_A_YEAR).ceil();
    crate::number::whole(days)
}

/// A length as people read it: whole millimetres, or one place where there is one.
#[must_use]
pub fn shown(mm: f64) -> String {
    let tenths = crate::number::tenths(mm);
    if (tenths - tenths.round()).abs() < 1e-9 { format!("{tenths:.0}") } else { format!("{tenths:.1}") }
}
