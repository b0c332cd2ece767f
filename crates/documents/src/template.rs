//! Strips of paper at true scale that show where markers go, many to a sheet.
//!
//! A strip is held with its nut line at the nut's edge. Where it is longer than a sheet it is cut in two that overlap.

use bright_row_core::number::tenths;
use bright_row_core::tapes::colour::Colour;
use bright_row_core::tapes::marker_set::MarkerKind;

use crate::measure::fitting;
use crate::packing::columns;
use crate::pdf::{Drawing, Paper};

/// A marker on a strip.
#[derive(Clone, Debug, PartialEq)]
pub struct TemplateMarker {
    /// What stands beside it: the finger.
    pub label: String,
    /// As it really is on the instrument.
    pub colour: Colour,
    /// Where its line goes, from the nut's edge, in millimetres: the nut-side edge of a strip of tape, else its middle.
    pub at_mm: f64,
}

/// What is laid along the instrument with its nut line at the nut.
#[derive(Clone, Debug, PartialEq)]
pub struct Template {
    /// The instrument's tag.
    pub tag: String,
    /// `cello 1/2`.
    pub what: String,
    /// Nut to bridge, in millimetres.
    pub length_mm: f64,
    /// Whether that was measured, or is what is usual for the size.
    pub measured: bool,
    /// The day, as it is written.
    pub day: String,
    /// What the markers are made of.
    pub kind: MarkerKind,
    /// Width of a strip of tape, in millimetres.
    pub strip_mm: f64,
    /// Whether each finger has its colour, and the strip says which.
    pub colours: bool,
    /// Up the string.
    pub markers: Vec<TemplateMarker>,
    /// Whether it is for the back of the neck: one spot for the thumb.
    pub for_thumb: bool,
}

/// Sheets with strips on them.
#[derive(Clone, Debug)]
pub struct Sheets {
    /// Page by page.
    pub pages: Vec<Drawing>,
    /// How many strips are on them, a strip that is cut in two counted twice.
    pub pieces: usize,
}

/// Width of a strip of paper, in millimetres: six lie side by side on either paper.
pub const WIDTH_MM: f64 = 31.0;
/// From a piece's upper end to the nut line.
pub const ABOVE_NUT_MM: f64 = 7.0;
/// The ruler that shows whether the printer kept the scale.
pub const RULER_MM: f64 = 100.0;
/// Free paper around everything that printers leave white.
pub const MARGIN_MM: f64 = 9.0;
/// How far the two pieces of a cut strip overlap.
pub const OVERLAP_MM: f64 = 15.0;
/// Room for the words below the last marker.
const WORDS_MM: f64 = 20.0;
/// Radius of the thumb's felt spot.
const SPOT_MM: f64 = 7.5;
/// Height of a marker's words above its line.
const LABEL_MM: f64 = 4.2;
/// Room for the name of a colour below its marker.
const COLOUR_MM: f64 = 3.4;
/// Radius of a dot.
const DOT_MM: f64 = 2.5;

impl Template {
    /// What reaches below the last marker's line.
    fn below_mm(&self) -> f64 {
        if self.for_thumb {
            return SPOT_MM + 5.0;
        }
        self.strip_mm.max(DOT_MM) + if self.colours { COLOUR_MM } else { 0.0 }
    }

    /// How long the strip is, in millimetres, from above the nut to below the words.
    #[must_use]
    pub fn height_mm(&self) -> f64 {
        let last = self.markers.iter().map(|marker| marker.at_mm).fold(0.0, f64::max);
        let below = self.below_mm();
        ABOVE_NUT_MM + (last + below + WORDS_MM).max(RULER_MM + 6.5)
    }
}

/// A part of a strip on paper: from `from` to `to` along it.
#[derive(Clone, Copy)]
struct Piece<'a> {
    template: &'a Template,
    from: f64,
    to: f64,
}

/// All strips on as few sheets as will do, with lines to cut along.
#[must_use]
pub fn sheets(templates: &[Template], paper: Paper) -> Sheets {
    let (width, height) = paper.size_mm();
    let room = height - 2.0 * MARGIN_MM;
    let pieces: Vec<Piece<'_>> = templates.iter().flat_map(|template| cut(template, room)).collect();
    let heights: Vec<f64> = pieces.iter().map(|piece| piece.to - piece.from).collect();
    let across =
        (1..=20_u8).take_while(|many| f64::from(*many) * WIDTH_MM + 2.0 * MARGIN_MM <= width).last().unwrap_or(1);
    let left = (width - f64::from(across) * WIDTH_MM) / 2.0;
    let packed = columns(&heights, room);
    let sheet = |columns: &[Vec<usize>]| {
        let mut page = Drawing::new((width, height));
        for (number, column) in (0_u8..).zip(columns) {
            let x = left + f64::from(number) * WIDTH_MM;
            let mut y = MARGIN_MM;
            for piece in column {
                draw(&mut page, (x, y), pieces[*piece]);
                y += heights[*piece];
            }
        }
        page
    };
    Sheets { pages: packed.chunks(usize::from(across)).map(sheet).collect(), pieces: pieces.len() }
}

/// One strip by itself, on paper of its own size.
#[must_use]
pub fn single(template: &Template) -> Drawing {
    let height = template.height_mm();
    let mut page = Drawing::new((WIDTH_MM, height));
    draw(&mut page, (0.0, 0.0), Piece { template, from: 0.0, to: height });
    page
}

/// A strip in pieces that fit a sheet.
fn cut(template: &Template, room: f64) -> Vec<Piece<'_>> {
    let height = template.height_mm();
    let mut pieces = Vec::new();
    let mut from = 0.0;
    loop {
        let to = height.min(from + room);
        pieces.push(Piece { template, from, to });
        if to >= height {
            return pieces;
        }
        from = to - OVERLAP_MM;
    }
}

fn draw(page: &mut Drawing, (x, y): (f64, f64), piece: Piece<'_>) {
    let (right, bottom) = (x + WIDTH_MM, y + piece.to - piece.from);
    for (cx, cy, dx, dy) in
        [(x, y, 1.0, 1.0), (right, y, -1.0, 1.0), (x, bottom, 1.0, -1.0), (right, bottom, -1.0, -1.0)]
    {
        page.line((cx, cy), (cx + dx * 3.0, cy), 0.2);
        page.line((cx, cy), (cx, cy + dy * 3.0), 0.2);
    }
    let on = On { piece, x, y };
    on.nut(page);
    for marker in &piece.template.markers {
        on.marker(page, marker);
    }
    on.ruler(page);
    on.words(page);
    on.overlaps(page, bottom);
}

/// A piece at its place on a page.
struct On<'a> {
    piece: Piece<'a>,
    x: f64,
    y: f64,
}

impl On<'_> {
    /// Where on the page something `mm` from the nut lies; `None` if it is on another piece.
    fn at(&self, mm: f64) -> Option<f64> {
        let along = ABOVE_NUT_MM + mm;
        (along >= self.piece.from && along <= self.piece.to).then_some(self.y + along - self.piece.from)
    }

    fn nut(&self, page: &mut Drawing) {
        let Some(y) = self.at(0.0) else { return };
        page.line((self.x + 1.0, y), (self.x + WIDTH_MM - 1.0, y), 0.5);
        page.text((self.x + 4.0, y - 1.6), 3.2, "start", true, "nut edge");
    }

    fn marker(&self, page: &mut Drawing, marker: &TemplateMarker) {
        let template = self.piece.template;
        let Some(y) = self.at(marker.at_mm) else { return };
        let (colour, colour_ink) = (marker.colour.hex(), marker.colour.ink());
        let (from, to) = (self.x + 1.0, self.x + 19.0);
        if template.for_thumb {
            page.spot((self.x + 10.0, y), SPOT_MM, "none");
            page.line((from, y), (to, y), 0.2);
            page.text((self.x + 10.0, y - SPOT_MM - 1.2), 3.2, "middle", true, "thumb");
            page.text(
                (self.x + 10.0, y + SPOT_MM + 3.6),
                3.0,
                "middle",
                false,
                &format!("{:.1} mm", tenths(marker.at_mm)),
            );
            return;
        }
        match template.kind {
            MarkerKind::Tapes | MarkerKind::Overlay | MarkerKind::None => {
                page.band((from, y), (to - from, template.strip_mm), colour);
            }
            MarkerKind::Dots => page.spot((self.x + 10.0, y), DOT_MM, colour),
            MarkerKind::Pencil => {}
        }
        page.line((from, y), (to, y), 0.2);
        let words = format!("{:.1} mm", tenths(marker.at_mm));
        page.text((from, y - 0.9), 4.0, "start", true, &marker.label);
        page.text((to, y - 0.9), 2.9, "end", false, &words);
        if template.colours {
            let below = if template.kind == MarkerKind::Pencil { 0.0 } else { template.strip_mm };
            let name = marker.colour.name();
            let next = template
                .markers
                .iter()
                .map(|other| other.at_mm)
                .filter(|at| *at > marker.at_mm)
                .fold(f64::MAX, f64::min);
            if next - marker.at_mm > below + COLOUR_MM + LABEL_MM {
                page.text((from, y + below + 3.0), 2.8, "start", false, name);
            } else {
                // On a short string the next marker's words stand there: on the band itself, or beside the dot.
                let ink = if template.kind == MarkerKind::Dots { "#000" } else { colour_ink };
                page.coloured((f64::midpoint(from, to) + 4.5, y + 2.4), 2.8, ink, name);
            }
        }
    }

    /// Ticks every millimetre, longer ones every five and ten, from the nut.
    fn ruler(&self, page: &mut Drawing) {
        let right = self.x + WIDTH_MM - 1.0;
        for mm in 0..=100_u8 {
            let Some(y) = self.at(f64::from(mm)) else { continue };
            let long = if mm % 10 == 0 {
                5.0
            } else if mm % 5 == 0 {
                3.5
            } else {
                2.0
            };
            page.line((right - long, y), (right, y), 0.12);
            if mm == 50 && !self.is_near(50.0) && !self.has_words_at(50.0) {
                page.text((right - 5.6, y + 1.0), 2.9, "end", false, "50");
            }
        }
        if let Some(y) = self.at(RULER_MM) {
            // Below the last tick and no wider than it: whatever stands beside the ruler ends before.
            page.text((right, y + 3.0), 2.8, "end", false, "100");
            page.text((right, y + 5.6), 2.8, "end", false, "mm");
        }
    }

    /// Whether a marker's words stand beside the ruler there.
    fn is_near(&self, mm: f64) -> bool {
        self.piece.template.markers.iter().any(|marker| (mm - 2.0..mm + 8.0).contains(&marker.at_mm))
    }

    /// Where its words begin, from the nut.
    fn words_mm(&self) -> f64 {
        let template = self.piece.template;
        template.markers.iter().map(|marker| marker.at_mm).fold(0.0, f64::max) + template.below_mm() + 5.0
    }

    /// Whether the strip's own words stand beside the ruler there.
    fn has_words_at(&self, mm: f64) -> bool {
        (self.words_mm() - 6.0..self.words_mm() + WORDS_MM - 4.0).contains(&mm)
    }

    fn words(&self, page: &mut Drawing) {
        let template = self.piece.template;
        let string =
            format!("{:.1} mm {}", tenths(template.length_mm), if template.measured { "string" } else { "usual" });
        let lines = [
            (4.6, true, template.tag.as_str()),
            (3.0, false, &template.what),
            (3.0, false, &string),
            (3.0, false, &template.day),
        ];
        let mut mm = self.words_mm();
        for (size, bold, words) in lines {
            if let Some(y) = self.at(mm) {
                page.text((self.x + 1.0, y), size, "start", bold, &fitting(words, 24.0, size));
            }
            mm += 3.9;
        }
    }

    /// The overlap is a broken line and a letter, the same on both pieces.
    fn overlaps(&self, page: &mut Drawing, bottom: f64) {
        let across = |page: &mut Drawing, y: f64, letter: &str| {
            page.dashes((self.x + 1.0, y), (self.x + WIDTH_MM - 1.0, y), 0.25);
            page.text((self.x + 20.5, y - 0.8), 3.2, "middle", true, letter);
        };
        if self.piece.from > 0.0 {
            across(page, self.y + OVERLAP_MM, "A");
        }
        if self.piece.to < self.piece.template.height_mm() {
            across(page, bottom, "A");
        }
    }
}
