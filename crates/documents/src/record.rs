//! A printed record: headings with lines under them, each with its day; words run on over as many lines as they need.

use crate::measure::{fitting, wrapped};
use crate::pdf::{Drawing, Paper};

const MARGIN: f64 = 16.0;
const SIZE: f64 = 3.8;
const LINE: f64 = 5.4;
/// How wide the column of days is.
const DAY: f64 = 26.0;
/// Pages of one record at most; what is beyond is said on the last.
const MOST_PAGES: usize = 400;

/// A part of a record.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Section {
    /// Its heading.
    pub heading: String,
    /// Each line's day, or nothing, and its words.
    pub lines: Vec<(String, String)>,
}

/// One printed line.
enum Printed {
    Heading(String),
    Words { day: String, words: String },
    Nothing,
}

/// The record on upright pages; a section without lines is left out.
#[must_use]
pub fn pages(title: &str, under: &str, sections: &[Section], paper: Paper) -> Vec<Drawing> {
    let (width, height) = paper.size_mm();
    let words_wide = width - 2.0 * MARGIN - DAY;
    let mut printed: Vec<Printed> = Vec::new();
    for section in sections.iter().filter(|section| !section.lines.is_empty()) {
        printed.push(Printed::Heading(section.heading.clone()));
        for (day, words) in &section.lines {
            for (number, part) in wrapped(words, words_wide, SIZE).into_iter().enumerate() {
                let day = if number == 0 { day.clone() } else { String::new() };
                printed.push(Printed::Words { day, words: part });
            }
        }
        printed.push(Printed::Nothing);
    }
    let first = 40.0;
    let a_page = (1..=200).take_while(|lines| first + f64::from(*lines) * LINE < height - MARGIN).count().max(1);
    let mut sheets: Vec<Vec<Printed>> = Vec::new();
    for line in printed {
        let full = sheets.last().is_none_or(|sheet: &Vec<Printed>| {
            // A heading does not stand alone at the foot of a page.
            sheet.len() >= a_page || (matches!(line, Printed::Heading(_)) && sheet.len() + 2 >= a_page)
        });
        if full {
            sheets.push(Vec::new());
        }
        if let Some(sheet) = sheets.last_mut() {
            sheet.push(line);
        }
    }
    if sheets.is_empty() {
        sheets.push(Vec::new());
    }
    let (total, kept) = (sheets.len(), sheets.len().min(MOST_PAGES));
    sheets.truncate(kept);
    let draw = |(number, sheet): (usize, &Vec<Printed>)| {
        let mut page = Drawing::new((width, height));
        page.text((MARGIN, 20.0), 6.5, "start", true, &fitting(title, width - 2.0 * MARGIN, 6.5));
        page.text((MARGIN, 27.0), SIZE, "start", false, &fitting(under, width - 2.0 * MARGIN, SIZE));
        let foot = format!("page {} of {total}", number + 1);
        page.text((width - MARGIN, height - 8.0), 3.4, "end", false, &foot);
        if number + 1 == MOST_PAGES && total > MOST_PAGES {
            page.text((MARGIN, height - 8.0), 3.4, "start", false, "The rest is in the record as JSON.");
        }
        let mut y = first - LINE;
        for line in sheet {
            y += LINE;
            match line {
                Printed::Heading(heading) => {
                    page.text((MARGIN, y), 4.6, "start", true, heading);
                    page.line((MARGIN, y + 1.4), (width - MARGIN, y + 1.4), 0.3);
                }
                Printed::Words { day, words } => {
                    page.text((MARGIN, y), SIZE, "start", false, day);
                    page.text((MARGIN + DAY, y), SIZE, "start", false, words);
                }
                Printed::Nothing => {}
            }
        }
        page
    };
    sheets.iter().enumerate().map(draw).collect()
}

#[cfg(test)]
mod tests {
    use proptest::prelude::*;

    use super::*;

    fn section(heading: &str, lines: usize, words: &str) -> Section {
        let line = |number: usize| (format!("2026-11-{:02}", 1 + number % 28), words.to_owned());
        Section { heading: heading.to_owned(), lines: (0..lines).map(line).collect() }
    }

    #[test]
    fn nothing_of_a_long_note_is_cut_off_and_an_empty_part_is_left_out() {
        let note = "the thumb bends again after the game with the bridge ".repeat(12);
        let drawn: String =
            pages("A child", "School", &[section("Seen", 3, &note), section("Loans", 0, "")], Paper::A4)
                .iter()
                .map(Drawing::svg)
                .collect();
        assert_eq!(drawn.matches("game").count(), 36);
        assert!(drawn.contains("Seen") && !drawn.contains("Loans"));
    }

    proptest! {
        #[test]
        fn every_line_is_printed_once_within_the_page(lines in 0_usize..300, words in "[a-z ]{1,200}", letter in any::<bool>()) {
            let paper = if letter { Paper::Letter } else { Paper::A4 };
            let sections = [section("First", lines, &words), section("Second", 3, "last")];
            let pages = pages("T", "U", &sections, paper);
            let drawn: String = pages.iter().map(Drawing::svg).collect();
            prop_assert_eq!(drawn.matches(">last<").count(), 3);
            let foot = format!("page 1 of {}", pages.len());
            prop_assert!(drawn.contains(&foot));
        }
    }
}
