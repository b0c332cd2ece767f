//! A sheet for the family: what is borrowed and who signs, how an instrument is looked after, another size, the luthier.

use crate::measure::{fitting, wrapped};
use crate::pdf::{Drawing, Paper};

/// What stands on a sheet.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct FamilySheet {
    /// The school's program.
    pub school: String,
    /// Above all.
    pub title: String,
    /// Whom and what it is about: `Ada, violin 1/2, V-07`.
    pub about: String,
    /// What it says, a paragraph each.
    pub lines: Vec<String>,
    /// What is written by hand.
    pub fields: Vec<String>,
}

const MARGIN: f64 = 20.0;
/// The smallest letters that are read at arm's length, in millimetres.
const SMALLEST: f64 = 3.5;

/// The sheet on one upright page; in large print letters are 1.35 times as large. Where that is too much for the page they are as
/// large as fits.
#[must_use]
pub fn page(sheet: &FamilySheet, paper: Paper, large: bool) -> Drawing {
    let wanted = if large { 6.5 } else { 4.8 };
    let sizes = (0..).map(|smaller| wanted - 0.3 * f64::from(smaller)).take_while(|letter| *letter > SMALLEST);
    let fits = |(_, lowest): &(Drawing, f64)| lowest + MARGIN / 2.0 <= paper.size_mm().1;
    let found = sizes.map(|letter| drawn(sheet, paper, letter)).find(fits);
    found.unwrap_or_else(|| drawn(sheet, paper, SMALLEST)).0
}

/// With letters of this size in millimetres, and how low it reaches.
fn drawn(sheet: &FamilySheet, paper: Paper, letter: f64) -> (Drawing, f64) {
    let (width, height) = paper.size_mm();
    let inner = width - 2.0 * MARGIN;
    let mut page = Drawing::new((width, height));
    page.text((MARGIN, 22.0), letter * 0.8, "start", false, &fitting(&sheet.school, inner, letter * 0.8));
    let mut y = 26.0 + letter * 2.2;
    for line in wrapped(&sheet.title, inner, letter * 1.7) {
        page.text((MARGIN, y), letter * 1.7, "start", true, &line);
        y += letter * 2.1;
    }
    page.text((MARGIN, y), letter, "start", false, &fitting(&sheet.about, inner, letter));
    page.line((MARGIN, y + letter * 0.7), (width - MARGIN, y + letter * 0.7), 0.35);
    y += letter * 2.4;
    for text in &sheet.lines {
        for line in wrapped(text, inner, letter) {
            page.text((MARGIN, y), letter, "start", false, &line);
            y += letter * 1.35;
        }
        y += letter * 0.45;
    }
    for field in &sheet.fields {
        y += letter * 2.2;
        page.text((MARGIN, y), letter * 0.9, "start", false, field);
        page.line((MARGIN + inner * 0.4, y + 1.0), (width - MARGIN, y + 1.0), 0.25);
    }
    (page, y)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::pdf::pdf;

    #[test]
    fn everything_stands_on_the_page_also_in_large_print_and_hostile_words_stay_text() {
        let sheet = FamilySheet {
            school: "Hollow <Hill> School".to_owned(),
            title: "Looking after the double bass".to_owned(),
            about: "Ada, bass 3/4, B-01".to_owned(),
            lines: vec!["Did a string break, or did the bridge fall? Leave it. Bring it to us.".to_owned(); 11],
            fields: vec!["Name of a grown-up".to_owned(); 5],
        };
        for paper in [Paper::A4, Paper::Letter] {
            for large in [false, true] {
                let page = page(&sheet, paper, large);
                let svg = page.svg();
                assert!(!svg.contains("<Hill>"));
                let lowest = svg.split(" y=\"").skip(1).filter_map(|rest| rest.split('"').next()?.parse::<f64>().ok());
                assert!(lowest.fold(0.0, f64::max) < paper.size_mm().1 - 8.0, "{paper:?} {large}");
                assert!(pdf(&[page], "sheet").expect("a file").starts_with(b"%PDF"));
            }
        }
    }
}
