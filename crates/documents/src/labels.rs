//! Tags for instruments: what it is, and a QR code that opens its page.

use crate::measure::{fitting, wrapped};
use crate::pdf::{Drawing, Paper};
use crate::qr;

/// A tag to print.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Label {
    /// The instrument's tag, `C-07`.
    pub tag: String,
    /// `cello 1/2`.
    pub what: String,
    /// The address its code opens.
    pub address: String,
    /// The school's program.
    pub owner: String,
}

/// What tags are printed on.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum LabelSheet {
    /// Plain paper, to be cut along the frames.
    Cut(Paper),
    /// A4 with 24 labels of 70 x 37 mm.
    TwentyFour,
    /// A4 with 21 labels of 63.5 x 38.1 mm.
    TwentyOne,
    /// Letter with 30 labels of 2 5/8 x 1 in.
    Thirty,
}

/// Where labels lie on a sheet, in millimetres.
#[derive(Clone, Copy, Debug)]
struct Grid {
    paper: Paper,
    /// Labels across and down.
    many: (usize, usize),
    /// The upper left corner of the first.
    first: (f64, f64),
    /// Width and height of each.
    label: (f64, f64),
    /// From one to the next, across and down.
    step: (f64, f64),
    /// Each has a frame to cut along.
    framed: bool,
}

/// Width and height of a tag that is cut out, in millimetres.
const TAG: (f64, f64) = (62.0, 32.0);
/// Free paper around those that every printer leaves white.
const MARGIN: f64 = 9.0;
/// The side of the code on it, and the free space around code and words.
const CODE: f64 = 23.0;
const AROUND: f64 = 4.5;
/// The room for the tag itself above the others.
const TAG_HEIGHT: f64 = 10.0;
/// Font sizes of the tag, in millimetres.
const SIZES: [f64; 5] = [8.0, 6.0, 4.5, 3.6, 3.0];

impl LabelSheet {
    /// How many labels a sheet has.
    #[must_use]
    pub fn many(self) -> usize {
        let (across, down) = self.grid().many;
        across * down
    }

    fn grid(self) -> Grid {
        let labels = |paper, many, first, label, step| Grid { paper, many, first, label, step, framed: false };
        match self {
            Self::Cut(paper) => {
                let (width, height) = paper.size_mm();
                let many = (fits(width, TAG.0), fits(height, TAG.1));
                let first = ((width - count(many.0) * TAG.0) / 2.0, (height - count(many.1) * TAG.1) / 2.0);
                Grid { paper, many, first, label: TAG, step: TAG, framed: true }
            }
            Self::TwentyFour => labels(Paper::A4, (3, 8), (0.0, 0.5), (70.0, 37.0), (70.0, 37.0)),
            Self::TwentyOne => labels(Paper::A4, (3, 7), (7.2, 15.15), (63.5, 38.1), (66.05, 38.1)),
            Self::Thirty => labels(Paper::Letter, (3, 10), (4.76, 12.7), (66.68, 25.4), (69.85, 25.4)),
        }
    }
}

/// Sheets of tags, in order; on sheets of labels the first `begun` are left out: they have been used.
#[must_use]
pub fn sheets(labels: &[Label], sheet: LabelSheet, begun: usize) -> Vec<Drawing> {
    let grid = sheet.grid();
    let places = grid.many.0 * grid.many.1;
    let gaps = std::iter::repeat_n(None, begun.min(places - 1));
    let filled: Vec<Option<&Label>> = gaps.chain(labels.iter().map(Some)).collect();
    let page = |labels: &[Option<&Label>]| {
        let mut page = Drawing::new(grid.paper.size_mm());
        for (place, label) in labels.iter().enumerate() {
            let (column, row) = (place % grid.many.0, place / grid.many.0);
            let at = (grid.first.0 + count(column) * grid.step.0, grid.first.1 + count(row) * grid.step.1);
            if let Some(label) = label {
                draw(&mut page, at, grid, label);
            }
        }
        page
    };
    filled.chunks(places).map(page).collect()
}

/// A tag, whole, as large as it can be in a width and a height: in one line or several beside the code.
fn tag_lines(tag: &str, width: f64, scale: f64) -> (f64, Vec<String>) {
    let set = |size: f64| (size * scale, wrapped(tag, width, size * scale));
    let stands = |(size, lines): &(f64, Vec<String>)| count(lines.len()) * size * 1.1 <= TAG_HEIGHT * scale;
    SIZES.into_iter().map(set).find(stands).unwrap_or_else(|| set(2.4))
}

fn fits(paper: f64, tag: f64) -> usize {
    (1..=50).take_while(|many| count(*many) * tag + 2.0 * MARGIN <= paper).last().unwrap_or(1)
}

fn count(number: usize) -> f64 {
    f64::from(u32::try_from(number).unwrap_or(u32::MAX))
}

/// The tag in the middle of its label; on a flat one everything is smaller.
fn draw(page: &mut Drawing, (left, top): (f64, f64), grid: Grid, label: &Label) {
    let (width, height) = grid.label;
    let scale = (height / TAG.1).min(1.0);
    let code = CODE * scale;
    let y = top + (height - TAG.1 * scale) / 2.0;
    let x = left + AROUND + 0.5;
    let room = width - code - 2.0 * AROUND;
    if grid.framed {
        page.frame((left + 1.0, top + 1.0), (width - 2.0, height - 2.0), 2.0);
    }
    let (size, lines) = tag_lines(&label.tag, room, scale);
    for (number, line) in lines.iter().enumerate() {
        // The last line stands where a single one would.
        let above = count(lines.len() - 1 - number) * size * 1.1;
        page.text((x, y + 12.0 * scale - above), size, "start", true, line);
    }
    let small = |size: f64| size * scale;
    page.text((x, y + 19.5 * scale), small(4.2), "start", false, &fitting(&label.what, room, small(4.2)));
    page.text((x, y + 27.0 * scale), small(2.8), "start", false, &fitting(&label.owner, room, small(2.8)));
    if let Some(path) = qr::path(&label.address, (left + width - AROUND + 1.5 - code, y + AROUND * scale), code) {
        page.fill(&path);
    }
}
