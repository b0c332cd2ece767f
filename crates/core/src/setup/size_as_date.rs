//! Sizes that a spreadsheet took for days: `3/4` becomes the third of April or the fourth of March as soon as it is typed.

/// The months as spreadsheets shorten them in English.
const MONTHS: [&str; 12] = ["jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"];
/// The smallest instrument is one thirty-second of a whole one.
const SMALLEST: u32 = 32;

/// The size that a day was before: `3/4` of `2026-03-04`, `3/4/2026`, `4.3.26`, `3-Apr` or `Apr-03`. A size is at most one, and so
/// the smaller of its two numbers stands first, whichever of them the spreadsheet took for the month. `None` for what is no such day.
#[must_use]
pub fn size_of_date(cell: &str) -> Option<String> {
    let parts: Vec<&str> = cell.split(['-', '/', '.', ' ', ',']).filter(|part| !part.is_empty()).collect();
    let number = |part: &&str| part.parse::<u32>().ok().filter(|_| part.len() <= 2);
    let month = |part: &&str| {
        let short = part.get(..3)?.to_ascii_lowercase();
        let place = (1..).zip(MONTHS).find(|(_, month)| *month == short)?;
        part.chars().all(|letter| letter.is_ascii_alphabetic()).then_some(place.0)
    };
    let is_year = |part: &&str| matches!(part.len(), 2 | 4) && part.chars().all(|digit| digit.is_ascii_digit());
    let (one, other) = match parts.as_slice() {
        [year, one, other] if year.len() == 4 && is_year(year) => (number(one)?, number(other)?),
        [one, other, year] if is_year(year) => (month(one).or(number(one))?, month(other).or(number(other))?),
        // Without a year only where a month is a word: `3/4` itself is a size.
        [one, other] if month(one).is_some() || month(other).is_some() => {
            (month(one).or(number(one))?, month(other).or(number(other))?)
        }
        _ => return None,
    };
    let (part, whole) = (one.min(other), one.max(other));
    (part >= 1 && whole <= SMALLEST).then(|| format!("{part}/{whole}"))
}

#[cfg(test)]
mod tests {
    use proptest::prelude::*;

    use super::*;

    #[test]
    fn a_day_is_the_size_that_it_was() {
        for (cell, size) in [
            ("2026-03-04", "3/4"),
            ("2026-04-03", "3/4"),
            ("3/4/2026", "3/4"),
            ("04.03.26", "3/4"),
            ("3-Apr", "3/4"),
            ("Mar 4", "3/4"),
            ("04 March", "3/4"),
            ("Jan-32", "1/32"),
            ("1/2/26", "1/2"),
            ("2026-01-16", "1/16"),
            ("4-Apr", "4/4"),
        ] {
            assert_eq!(size_of_date(cell).as_deref(), Some(size), "{cell}");
        }
        for cell in ["", "3/4", "15.5", "13", "full", "2026", "2026-00-04", "1/2/3/4", "1-May-x", "46127", "May be"] {
            assert_eq!(size_of_date(cell), None, "{cell}");
        }
    }

    proptest! {
        #[test]
        fn any_text_is_a_size_of_at_most_one_or_none(cell in ".{0,20}", year in 1_990_u32..2_100, part in 1_u32..13, whole in 1_u32..29) {
            if let Some((part, whole)) = size_of_date(&cell).as_deref().and_then(|size| size.split_once('/')) {
                let [part, whole] = [part, whole].map(|number| number.parse::<u32>().expect("a number"));
                prop_assert!((1..=whole).contains(&part) && whole <= SMALLEST);
            }
            let fraction = format!("{}/{}", part.min(whole), part.max(whole));
            for cell in [format!("{year}-{part:02}-{whole:02}"), format!("{whole}.{part}.{year}"), format!("{part}/{whole}/{year}")] {
                prop_assert_eq!(size_of_date(&cell), Some(fraction.clone()));
            }
        }
    }
}
