//! Days and moments that come in, within the time that the application speaks of: a year of five digits is a slip of the
//! keyboard, and some calendars and databases cannot keep it.

use chrono::{DateTime, Datelike, NaiveDate, Utc};
use serde::{Deserialize, Deserializer, Serialize};

/// The first year that a day may be of.
pub const FIRST_YEAR: i32 = 1900;
/// The last year that a day may be of.
pub const LAST_YEAR: i32 = 2199;

/// A day of the years 1900 to 2199.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[cfg_attr(feature = "schema", schema(value_type = String, format = Date))]
#[serde(try_from = "NaiveDate", into = "NaiveDate")]
pub struct Day(NaiveDate);

/// A day or a moment outside the years that are kept.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
#[error("a day of the years {FIRST_YEAR} to {LAST_YEAR} is wanted")]
pub struct FarDay;

impl Day {
    /// The day itself, or the nearest that is kept.
    #[must_use]
    pub fn near(date: NaiveDate) -> Self {
        let first = NaiveDate::from_ymd_opt(FIRST_YEAR, 1, 1).unwrap_or(NaiveDate::MIN);
        let last = NaiveDate::from_ymd_opt(LAST_YEAR, 12, 31).unwrap_or(NaiveDate::MAX);
        Self(date.clamp(first, last))
    }

    /// The day.
    #[must_use]
    pub const fn date(self) -> NaiveDate {
        self.0
    }
}

impl TryFrom<NaiveDate> for Day {
    type Error = FarDay;

    fn try_from(date: NaiveDate) -> Result<Self, FarDay> {
        if is_kept(&date) { Ok(Self(date)) } else { Err(FarDay) }
    }
}

impl From<Day> for NaiveDate {
    fn from(day: Day) -> Self {
        day.0
    }
}

impl std::str::FromStr for Day {
    type Err = FarDay;

    fn from_str(text: &str) -> Result<Self, FarDay> {
        text.parse::<NaiveDate>().map_err(|_| FarDay)?.try_into()
    }
}

fn is_kept(day: &impl Datelike) -> bool {
    (FIRST_YEAR..=LAST_YEAR).contains(&day.year())
}

/// Reads a moment of the years 1900 to 2199.
///
/// # Errors
/// Those of the deserializer, with [`FarDay`] as the words.
pub fn moment<'de, D: Deserializer<'de>>(from: D) -> Result<DateTime<Utc>, D::Error> {
    let moment = DateTime::<Utc>::deserialize(from)?;
    if is_kept(&moment) { Ok(moment) } else { Err(serde::de::Error::custom(FarDay)) }
}

/// Reads a [`moment`] that may be absent.
///
/// # Errors
/// As [`moment`].
pub fn moment_or_none<'de, D: Deserializer<'de>>(from: D) -> Result<Option<DateTime<Utc>>, D::Error> {
    let moment = Option::<DateTime<Utc>>::deserialize(from)?;
    if moment.as_ref().is_none_or(is_kept) { Ok(moment) } else { Err(serde::de::Error::custom(FarDay)) }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[derive(Debug, Deserialize)]
    struct At {
        #[serde(deserialize_with = "moment")]
        at: DateTime<Utc>,
        #[serde(default, deserialize_with = "moment_or_none")]
        until: Option<DateTime<Utc>>,
    }

    #[test]
    fn days_of_three_centuries_are_read_and_no_others() {
        for good in ["1900-01-01", "2026-11-03", "2199-12-31"] {
            let day: Day = serde_json::from_str(&format!("\"{good}\"")).expect("a day");
            assert_eq!(
                (day.date().to_string(), serde_json::to_string(&day).expect("JSON")),
                (good.into(), format!("\"{good}\""))
            );
            assert_eq!(good.parse(), Ok(day));
        }
        for bad in ["1899-12-31", "2200-01-01", "+10000-01-01", "-4713-01-01", "2026-13-01", ""] {
            assert!(serde_json::from_str::<Day>(&format!("\"{bad}\"")).is_err(), "{bad}");
            assert_eq!(bad.parse::<Day>(), Err(FarDay), "{bad}");
        }
    }

    #[test]
    fn moments_too() {
        let read = |at: &str| serde_json::from_str::<At>(&format!(r#"{{"at":"{at}","until":"{at}"}}"#));
        let good = read("2026-11-03T14:00:00Z").expect("a moment");
        assert_eq!(Some(good.at), good.until);
        for bad in ["+10000-01-01T00:00:00Z", "-4720-01-01T00:00:00Z"] {
            let error = read(bad).expect_err(bad).to_string();
            assert!(error.contains("1900 to 2199"), "{error}");
        }
    }
}
