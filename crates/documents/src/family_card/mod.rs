//! The family card: what a child shows at home this week, and the week with boxes to tick, made for somebody who never held a bow.
//!
//! One side of A5, or half of a Letter sheet; two of them on a sheet with a line to cut along. No mark, level or comparison is on it.

mod foot;
mod html;
mod things;

use bright_row_core::figure::Figure;

use crate::measure::{fitting, wrapped};
use crate::pdf::{Drawing, Paper};
use crate::qr;
use foot::Foot;
use things::things;

pub use html::html;

/// Something that the child shows.
#[derive(Clone, Debug, PartialEq)]
pub struct CardThing {
    /// `Bent thumb`.
    pub name: String,
    /// What the child says to itself; empty for none.
    pub cue: String,
    /// What a grown-up sees when it is right.
    pub sign: String,
    /// How it looks; `None` where it is not drawn.
    pub figure: Option<Figure>,
}

/// What is done in a block, with its minutes on each day.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct CardRow {
    /// What the child does.
    pub text: String,
    /// Minutes on each day of the card; `None` where it rests.
    pub minutes: Vec<Option<u32>>,
}

/// What stands on a card.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct FamilyCard {
    /// `At home this week`.
    pub heading: String,
    /// The child's first name.
    pub name: String,
    /// `violin, 30 Nov to 4 Dec`.
    pub what: String,
    /// Above what is shown.
    pub show: String,
    /// Before each sign.
    pub see: String,
    /// One to three.
    pub things: Vec<CardThing>,
    /// Above the boxes.
    pub week: String,
    /// The days, short: `Mo`.
    pub days: Vec<String>,
    /// What is done, in order.
    pub rows: Vec<CardRow>,
    /// What to expect, when to stop, how to store.
    pub foot: Vec<String>,
    /// The address that its code opens; empty for none.
    pub code: String,
    /// In large print, whatever the others are in.
    pub large: bool,
}

/// Width and height of a card on half a sheet of this paper, in millimetres.
#[must_use]
pub const fn card_size(paper: Paper) -> (f64, f64) {
    match paper {
        Paper::A4 | Paper::A3 => (148.5, 210.0),
        Paper::Letter | Paper::Tabloid => (139.7, 215.9),
    }
}

const MARGIN: f64 = 9.0;
/// The height of a row of boxes.
const ROW: f64 = 9.0;
/// From one box to the next.
const COLUMN: f64 = 8.6;
/// From one line of the foot to the next.
const FOOT_LINE: f64 = 4.6;
/// The side of the code, with the white around it.
const CODE: f64 = 20.0;

/// Cards on sheets: two on one that lies on its side, with a line to cut along; large ones each on a sheet of its own, after the
/// others.
#[must_use]
pub fn sheets(cards: &[FamilyCard], paper: Paper, large: bool) -> Vec<Drawing> {
    let (width, height) = paper.size_mm();
    let (across, down) = card_size(paper);
    let scale = (width / across).min(height / down);
    let at = ((width - across * scale) / 2.0, (height - down * scale) / 2.0);
    let one = |card: &FamilyCard| {
        let mut sheet = Drawing::new((width, height));
        sheet.place(&draw(card, paper), at, scale);
        sheet
    };
    let (of_their_own, by_two): (Vec<&FamilyCard>, Vec<&FamilyCard>) =
        cards.iter().partition(|card| large || card.large);
    let two = |cards: &[&FamilyCard]| {
        let mut sheet = Drawing::new((height, width));
        for (left, card) in [0.0, height - across].into_iter().zip(cards) {
            sheet.place(&draw(card, paper), (left, 0.0), 1.0);
        }
        sheet.dashes((height / 2.0, 4.0), (height / 2.0, width - 4.0), 0.2);
        sheet
    };
    by_two.chunks(2).map(two).chain(of_their_own.into_iter().map(one)).collect()
}

/// One card by itself.
#[must_use]
pub fn draw(card: &FamilyCard, paper: Paper) -> Drawing {
    let (width, height) = card_size(paper);
    let mut page = Drawing::new((width, height));
    page.text((MARGIN, 12.0), 3.6, "start", false, &fitting(&card.heading, width - 2.0 * MARGIN, 3.6));
    page.text((MARGIN, 20.5), 7.6, "start", true, &fitting(&card.name, 80.0, 7.6));
    page.text((width - MARGIN, 20.5), 3.8, "end", false, &card.what);
    page.line((MARGIN, 23.5), (width - MARGIN, 23.5), 0.35);
    let foot = Foot::of(card, width);
    let code = qr::path(&card.code, (width - MARGIN - CODE, height - MARGIN - CODE + 2.0), CODE);
    let foot_height = (count(foot.lines.len()) * foot.step).max(if code.is_some() { CODE } else { 0.0 });
    let foot_top = height - MARGIN + 2.0 - foot_height;
    let week_top = foot_top - 5.0 - count(card.rows.len()) * ROW - 11.0;
    things(&mut page, card, (24.5, week_top - 2.0));
    week(&mut page, card, week_top);
    page.line((MARGIN, foot_top - FOOT_LINE), (width - MARGIN, foot_top - FOOT_LINE), 0.2);
    for (number, line) in foot.lines.iter().enumerate() {
        page.text((MARGIN, foot_top + count(number) * foot.step), foot.size, "start", false, line);
    }
    if let Some(code) = code {
        page.fill(&code);
    }
    page
}

/// What is done, with a box for each day.
fn week(page: &mut Drawing, card: &FamilyCard, top: f64) {
    let width = page.size().0;
    let boxes = width - MARGIN - count(card.days.len()) * COLUMN;
    page.line((MARGIN, top), (width - MARGIN, top), 0.35);
    let room = boxes - MARGIN - 2.0;
    // In one line, or in two smaller ones.
    let lines = |size: f64| wrapped(&card.week, room, size);
    let (size, first) = if lines(4.2).len() == 1 {
        (4.2, 5.6)
    } else {
        ([3.5, 3.1].into_iter().find(|size| lines(*size).len() <= 2).unwrap_or(2.6), 4.6)
    };
    for (line, text) in lines(size).iter().take(2).enumerate() {
        page.text((MARGIN, top + first + count(line) * size * 1.15), size, "start", true, text);
    }
    let middle = |column: usize| boxes + (count(column) + 0.5) * COLUMN;
    for (column, day) in card.days.iter().enumerate() {
        page.text((middle(column), top + 9.6), 3.4, "middle", true, day);
    }
    for (number, row) in card.rows.iter().enumerate() {
        let y = top + 11.0 + count(number) * ROW;
        let lines = wrapped(&row.text, boxes - MARGIN - 3.0, 3.5);
        let first = y + if lines.len() > 1 { 3.3 } else { 5.2 };
        for (line, text) in lines.iter().take(2).enumerate() {
            page.text((MARGIN, first + count(line) * 3.9), 3.5, "start", false, text);
        }
        for (column, minutes) in row.minutes.iter().enumerate() {
            let Some(minutes) = minutes else { continue };
            page.frame((middle(column) - 3.6, y + 0.6), (7.2, 7.2), 1.2);
            page.text((middle(column), y + 3.0), 2.1, "middle", false, &format!("{minutes} min"));
        }
    }
}

fn count(number: usize) -> f64 {
    f64::from(u32::try_from(number).unwrap_or(u32::MAX))
}

#[cfg(test)]
mod tests {
    use bright_row_core::craft::instrument::Instrument;
    use bright_row_core::figure::{FigureSpec, View};

    use super::*;
    use crate::pdf::pdf;

    pub(in crate::family_card) fn card(things: usize, days: usize, rows: usize) -> FamilyCard {
        let spec = FigureSpec::usual(View::BowHand);
        let thing = CardThing {
            name: "Bent <thumb>".to_owned(),
            cue: "Bumpy thumb".to_owned(),
            sign: "The thumb makes a bump.".to_owned(),
            figure: Some(spec.draw(Instrument::Cello)),
        };
        let row = CardRow {
            text: "Make your bow hand on a pencil. Let go. Make it again.".to_owned(),
            minutes: vec![Some(2); days],
        };
        FamilyCard {
            heading: "At home this week".to_owned(),
            name: "Ærø".to_owned(),
            what: "cello, 30 Nov to 4 Dec".to_owned(),
            show: "Show this to a grown-up:".to_owned(),
            see: "You see:".to_owned(),
            things: vec![thing; things],
            week: "Tick each box when it is done".to_owned(),
            days: vec!["Mo".to_owned(); days],
            rows: vec![row; rows],
            foot: vec!["Sore tips pass. Pain does not: stop and tell us.".to_owned(); 4],
            code: "https://strings.example.school/card/0190a3c4-7b1e-7c3d-9f21-5b8f6f0e2d11".to_owned(),
            large: false,
        }
    }

    #[test]
    fn a_card_fits_its_paper_whatever_is_on_it() {
        for paper in [Paper::A4, Paper::Letter] {
            for (things, days, rows) in [(0, 1, 1), (1, 5, 4), (3, 7, 6)] {
                let svg = draw(&card(things, days, rows), paper).svg();
                assert_eq!(svg.matches("<svg x=").count(), things);
                assert_eq!(svg.matches("<rect").count(), days * rows);
                assert!(!svg.contains("<thumb>"));
            }
        }
    }

    #[test]
    fn two_cards_share_a_sheet_and_a_large_one_has_its_own() {
        let cards = vec![card(3, 5, 6); 5];
        assert_eq!(sheets(&cards, Paper::A4, false).len(), 3);
        assert_eq!(sheets(&cards, Paper::Letter, true).len(), 5);
        assert!(sheets(&[], Paper::A4, false).is_empty());
        let mut mixed = cards.clone();
        (mixed[0].large, mixed[3].large) = (true, true);
        let sizes = sheets(&mixed, Paper::A4, false).iter().map(Drawing::size).collect::<Vec<_>>();
        assert_eq!(sizes, [(297.0, 210.0), (297.0, 210.0), (210.0, 297.0), (210.0, 297.0)]);
        for large in [false, true] {
            assert!(pdf(&sheets(&cards, Paper::A4, large), "cards").expect("a file").starts_with(b"%PDF"));
        }
    }

    #[test]
    fn a_drawing_that_several_cards_have_is_in_the_file_once() {
        let size = |many: usize, drawn: bool| {
            let mut cards = vec![card(3, 5, 4); many];
            if !drawn {
                cards.iter_mut().flat_map(|card| &mut card.things).for_each(|thing| thing.figure = None);
            }
            pdf(&sheets(&cards, Paper::A4, false), "cards").expect("a file").len()
        };
        let drawings = |many| size(many, true) - size(many, false);
        let (one, twelve) = (drawings(1), drawings(12));
        assert!(one > 1000 && twelve < 2 * one, "{one} bytes for one card's, {twelve} for twelve cards'");
    }
}
