//! A page for a talk with the family: what a child has learned, in words, and what comes next, with drawings. No level, no number
//! and nobody else stands on it.

use crate::family_card::CardThing;
use crate::measure::{fitting, wrapped};
use crate::pdf::{Drawing, Paper};

/// What a child has learned in one strand.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Learned {
    /// The strand.
    pub name: String,
    /// What a grown-up can see, the newest first; or one line that it is the beginning.
    pub lines: Vec<String>,
}

/// What stands on the page.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct TermPage {
    /// The school's program.
    pub school: String,
    /// What the child is called.
    pub name: String,
    /// `cello 1/2, 5 Oct to 30 Nov`
    pub about: String,
    /// Above what was learned.
    pub learned_title: String,
    /// By strand.
    pub learned: Vec<Learned>,
    /// Above what comes next.
    pub next_title: String,
    /// To a grown-up, before what is seen.
    pub see: String,
    /// One to three things; none where all rests.
    pub next: Vec<CardThing>,
    /// Below all.
    pub foot: String,
}

const MARGIN: f64 = 20.0;
const SIZE: f64 = 4.4;
const LINE: f64 = 6.0;
/// The most lines of a strand.
const MOST: usize = 5;
/// The height of one thing that comes next.
const THING: f64 = 34.0;

/// The page, upright.
#[must_use]
pub fn page(term: &TermPage, paper: Paper) -> Drawing {
    let (width, height) = paper.size_mm();
    let inner = width - 2.0 * MARGIN;
    let mut page = Drawing::new((width, height));
    page.text((MARGIN, 20.0), 3.6, "start", false, &fitting(&term.school, inner, 3.6));
    page.text((MARGIN, 31.0), 9.0, "start", true, &fitting(&term.name, inner, 9.0));
    page.text((MARGIN, 38.5), SIZE, "start", false, &fitting(&term.about, inner, SIZE));
    page.line((MARGIN, 42.0), (width - MARGIN, 42.0), 0.35);
    let next_top = height - 18.0 - THING * f64::from(u32::try_from(term.next.len()).unwrap_or_default()) - 8.0;
    learned(&mut page, term, (50.0, if term.next.is_empty() { height - 24.0 } else { next_top - 6.0 }));
    if !term.next.is_empty() {
        next(&mut page, term, next_top);
    }
    page.text((MARGIN, height - 10.0), 3.6, "start", false, &fitting(&term.foot, inner, 3.6));
    page
}

fn learned(page: &mut Drawing, term: &TermPage, (top, bottom): (f64, f64)) {
    let inner = page.size().0 - 2.0 * MARGIN;
    page.text((MARGIN, top), 5.6, "start", true, &fitting(&term.learned_title, inner, 5.6));
    let mut y = top + 3.0;
    for strand in &term.learned {
        y += 8.0;
        if y > bottom {
            return;
        }
        page.text((MARGIN, y), SIZE, "start", true, &fitting(&strand.name, inner, SIZE));
        for text in strand.lines.iter().take(MOST) {
            for (number, line) in wrapped(text, inner - 6.0, SIZE).iter().enumerate() {
                y += LINE;
                if y > bottom {
                    return;
                }
                if number == 0 {
                    page.spot((MARGIN + 2.0, y - 1.5), 0.8, "#291f16");
                }
                page.text((MARGIN + 6.0, y), SIZE, "start", false, line);
            }
        }
    }
}

fn next(page: &mut Drawing, term: &TermPage, top: f64) {
    let width = page.size().0;
    let words = MARGIN + 58.0;
    let most = width - MARGIN - words;
    page.line((MARGIN, top - 5.0), (width - MARGIN, top - 5.0), 0.2);
    page.text((MARGIN, top + 2.0), 5.6, "start", true, &fitting(&term.next_title, width - 2.0 * MARGIN, 5.6));
    for (number, thing) in (0_u32..).zip(&term.next) {
        let y = top + 6.0 + f64::from(number) * THING;
        if let Some(figure) = &thing.figure {
            page.figure((MARGIN, y), (52.0, THING - 3.0), figure);
        }
        let mut line_y = y + 6.0;
        page.text((words, line_y), 4.8, "start", true, &fitting(&thing.name, most, 4.8));
        for line in wrapped(&format!("{} {}", term.see, thing.sign), most, SIZE).iter().take(3) {
            line_y += LINE;
            page.text((words, line_y), SIZE, "start", false, line);
        }
    }
}

#[cfg(test)]
mod tests {
    use bright_row_core::craft::instrument::Instrument;
    use bright_row_core::figure::{FigureSpec, View};

    use super::*;
    use crate::pdf::pdf;

    fn term(strands: usize, lines: usize, things: usize) -> TermPage {
        let thing = CardThing {
            name: "Bent <thumb>".to_owned(),
            cue: String::new(),
            sign: "The thumb makes a bump, and it stays when the bow turns over on the string.".to_owned(),
            figure: Some(FigureSpec::usual(View::BowHand).draw(Instrument::Bass)),
        };
        let line = "The bow hand makes its shape by itself, and the little finger stays round on the stick.".to_owned();
        TermPage {
            school: "Hollow Hill School".to_owned(),
            name: "Ærø ".repeat(30),
            about: "bass 3/4, 5 Oct to 30 Nov".to_owned(),
            learned_title: "What I can do".to_owned(),
            learned: vec![Learned { name: "Bow grip".to_owned(), lines: vec![line; lines] }; strands],
            next_title: "What comes next".to_owned(),
            see: "You see:".to_owned(),
            next: vec![thing; things],
            foot: "Sore tips pass. Pain does not: stop and tell us.".to_owned(),
        }
    }

    #[test]
    fn words_and_drawings_stay_apart_and_on_the_page_whatever_is_on_it() {
        for paper in [Paper::A4, Paper::Letter] {
            for (strands, lines, things) in [(0, 0, 0), (3, 1, 1), (3, 9, 3), (4, 30, 3)] {
                let page = page(&term(strands, lines, things), paper);
                let svg = page.svg();
                assert_eq!(svg.matches("<svg x=").count(), things);
                assert!(!svg.contains("<thumb>"));
                let heights: Vec<f64> =
                    svg.split(" y=\"").skip(1).filter_map(|rest| rest.split('"').next()?.parse().ok()).collect();
                assert!(heights.iter().fold(0.0_f64, |most, y| most.max(*y)) < paper.size_mm().1 - 5.0);
                assert!(pdf(&[page], "term").expect("a file").starts_with(b"%PDF"));
            }
        }
    }
}
