//! Drawn hands on paper: the palette of print for the classes of a figure, a sheet for the classroom's wall, a card for the stand.

use bright_row_core::figure::{Class, Figure};

use crate::measure::{fitting, wrapped};
use crate::pdf::{Drawing, Paper, Picture};

/// Something to look at or to do, with how it looks.
#[derive(Clone, Debug, PartialEq)]
pub struct Drawn {
    /// `Curved thumb`.
    pub name: String,
    /// What is there when it is right.
    pub words: String,
    /// What the child says to itself; empty for none.
    pub cue: String,
    /// How it looks; `None` where it is not drawn.
    pub figure: Option<Figure>,
}

/// A stage of a strand, with what belongs to it.
#[derive(Clone, Debug, PartialEq)]
pub struct DrawnStage {
    /// `Hand`.
    pub name: String,
    /// In the order of the ladder.
    pub all: Vec<Drawn>,
}

/// The margins of a sheet.
const MARGIN: f64 = 12.0;
/// From one drawing to the next.
const GUTTER: f64 = 5.0;
/// How large letters are, for each 100 mm of the sheet's width, in millimetres.
const LETTER: f64 = 1.9;

/// How a class looks on paper: filling, line, and how thick the line is beside the drawing's own.
const fn palette(class: Class) -> (&'static str, &'static str, f64) {
    const INK: &str = "#291f16";
    match class {
        Class::Wood => ("#f3d9a4", INK, 1.0),
        Class::Board | Class::Frog => ("#4a382c", INK, 0.6),
        Class::String => (INK, "none", 0.0),
        Class::Hair => ("#a9988a", "none", 0.0),
        Class::Ferrule => ("#d8cfc0", INK, 0.7),
        Class::Limb => ("#fffdf8", INK, 2.0),
        Class::Faded => ("#fffdf8", "#a3978a", 1.6),
        Class::Skin => ("#fffdf8", "none", 0.0),
        Class::Soft => ("#e6c6b4", INK, 0.7),
        Class::Marker => ("#fffdf8", INK, 0.3),
        Class::Nail => ("none", INK, 0.8),
        Class::Ghost | Class::Guide => ("none", "#63564a", 0.8),
        Class::Touch | Class::Sounding => ("#e09a1a", INK, 0.6),
        Class::Good => ("none", "#1c5947", 1.5),
        Class::Amiss => ("#a3195b", "#ffffff", 0.6),
    }
}

impl Drawing {
    /// A figure as large as fits into a box, in its middle.
    pub fn figure(&mut self, at: (f64, f64), size: (f64, f64), figure: &Figure) {
        let scale = (size.0 / figure.width).min(size.1 / figure.height);
        let (width, height) = (figure.width * scale, figure.height * scale);
        let (x, y) = (at.0 + (size.0 - width) / 2.0, at.1 + (size.1 - height) / 2.0);
        let mut svg = String::new();
        for shape in &figure.shapes {
            let (fill, stroke, thick) = palette(shape.class);
            let thick = figure.line * thick;
            let dashes = match shape.class {
                Class::Ghost => format!(" stroke-dasharray=\"{0} {0}\"", figure.line * 1.6),
                Class::Guide => format!(" stroke-dasharray=\"{} {}\"", figure.line * 3.0, figure.line * 2.4),
                _ => String::new(),
            };
            let data = shape.d.to_svg();
            // Several outlines melt: the ink of all of them first, then the paper.
            let line = format!("stroke=\"{stroke}\" stroke-width=\"{thick:.2}\"{dashes}");
            if matches!(shape.class, Class::Limb | Class::Faded) {
                svg += &format!(
                    "<path d=\"{data}\" fill=\"none\" {line}/>\n<path d=\"{data}\" fill=\"{fill}\" stroke=\"none\"/>\n"
                );
            } else {
                svg += &format!("<path d=\"{data}\" fill=\"{fill}\" {line}/>\n");
            }
        }
        let picture = Picture { size: (figure.width, figure.height), body: svg.into() };
        self.picture((x, y), (width, height), picture);
    }
}

/// Sheets for the classroom's wall: one strand on one instrument, stage by stage. `whose` stands at the top right.
#[must_use]
pub fn wall(title: &str, whose: &str, stages: &[DrawnStage], paper: Paper) -> Vec<Drawing> {
    let (width, height) = paper.size_mm();
    let letter = LETTER * width / 100.0;
    let columns = 4_u8;
    let cell = (width - 2.0 * MARGIN - GUTTER * 3.0) / f64::from(columns);
    let block = cell * 0.8 + letter * 6.4;
    let mut pages = Vec::new();
    let mut page = sheet(title, whose, (width, height), letter);
    let mut y = MARGIN + letter * 4.2;
    for stage in stages.iter().filter(|stage| !stage.all.is_empty()) {
        for (line, row) in stage.all.chunks(usize::from(columns)).enumerate() {
            let head = if line == 0 { letter * 2.2 } else { 0.0 };
            if y + head + block > height - MARGIN {
                pages.push(std::mem::replace(&mut page, sheet(title, whose, (width, height), letter)));
                y = MARGIN + letter * 4.2;
            }
            if line == 0 {
                page.text((MARGIN, y + letter * 1.3), letter * 1.35, "start", true, &stage.name);
                page.line((MARGIN, y + letter * 1.8), (width - MARGIN, y + letter * 1.8), 0.3);
            }
            y += head;
            let mut x = MARGIN;
            for drawn in row {
                one(&mut page, (x, y), cell, letter, drawn);
                x += cell + GUTTER;
            }
            y += block;
        }
    }
    pages.push(page);
    pages
}

fn sheet(title: &str, whose: &str, size: (f64, f64), letter: f64) -> Drawing {
    let mut page = Drawing::new(size);
    page.text((MARGIN, MARGIN + letter * 1.8), letter * 2.2, "start", true, title);
    page.text((size.0 - MARGIN, MARGIN + letter * 1.8), letter, "end", false, &fitting(whose, size.0 * 0.4, letter));
    page
}

/// A drawing over its words.
fn one(page: &mut Drawing, (x, y): (f64, f64), cell: f64, letter: f64, drawn: &Drawn) {
    let high = cell * 0.8;
    if let Some(figure) = &drawn.figure {
        page.figure((x, y), (cell, high), figure);
    }
    page.text((x, y + high + letter * 1.3), letter, "start", true, &fitting(&drawn.name, cell, letter));
    let size = letter * 0.86;
    for (line, words) in (0_u8..4).zip(wrapped(&drawn.words, cell, size)) {
        page.text((x, y + high + letter * 2.4 + f64::from(line) * size * 1.18), size, "start", false, &words);
    }
}

/// A card for the music stand, half a sheet of A4: the next one to three things of a child, as large as they may be.
#[must_use]
pub fn stand_card(name: &str, instrument: &str, things: &[Drawn]) -> Drawing {
    let (width, height) = (148.0, 210.0);
    let mut page = Drawing::new((width, height));
    page.text((MARGIN, 17.0), 7.0, "start", true, &fitting(name, 90.0, 7.0));
    page.text((width - MARGIN, 17.0), 4.2, "end", false, instrument);
    page.line((MARGIN, 21.0), (width - MARGIN, 21.0), 0.3);
    let count = u8::try_from(things.len().clamp(1, 3)).unwrap_or(3);
    let room = (height - 21.0 - MARGIN) / f64::from(count);
    for (at, thing) in (0_u8..3).zip(things) {
        let y = 21.0 + f64::from(at) * room;
        let words = 58.0;
        if let Some(figure) = &thing.figure {
            page.figure((MARGIN, y + 3.0), (width - 2.0 * MARGIN - words - 4.0, room - 6.0), figure);
        }
        let x = width - MARGIN - words;
        page.text((x, y + 12.0), 5.0, "start", true, &fitting(&thing.name, words, 5.0));
        let mut line_y = y + 19.0;
        for line in wrapped(&thing.words, words, 4.2) {
            page.text((x, line_y), 4.2, "start", false, &line);
            line_y += 5.2;
        }
        if !thing.cue.is_empty() {
            line_y += 2.0;
            for line in wrapped(&format!("“{}”", thing.cue), words, 4.6) {
                page.text((x, line_y), 4.6, "start", true, &line);
                line_y += 5.6;
            }
        }
    }
    page
}

#[cfg(test)]
mod tests {
    use bright_row_core::craft::instrument::Instrument;
    use bright_row_core::figure::{FigureSpec, View};

    use super::*;
    use crate::pdf::pdf;

    fn drawn(name: &str, view: View) -> Drawn {
        Drawn {
            name: name.to_owned(),
            words: "Thumb bent, the corner of its tip against the front of the frog, and nothing squeezes".to_owned(),
            cue: "Soft and bumpy".to_owned(),
            figure: Some(FigureSpec::usual(view).draw(Instrument::Cello)),
        }
    }

    #[test]
    fn a_wall_takes_as_many_sheets_as_it_needs_and_each_paper_has_its_size() {
        let all: Vec<Drawn> = View::ALL.iter().map(|view| drawn(view.word(), *view)).collect();
        let stages = [
            DrawnStage { name: "Hand".to_owned(), all: all.clone() },
            DrawnStage { name: "Empty".to_owned(), all: Vec::new() },
            DrawnStage { name: "Bow".to_owned(), all },
        ];
        for paper in [Paper::A4, Paper::A3, Paper::Letter, Paper::Tabloid] {
            let pages = wall("Bow grip, cello", "First-year strings", &stages, paper);
            assert!((2..=6).contains(&pages.len()), "{} sheets of {paper:?}", pages.len());
            let bytes = pdf(&pages, "wall").expect("a file");
            assert!(bytes.starts_with(b"%PDF"));
            let svg: String = pages.iter().map(Drawing::svg).collect();
            assert_eq!(svg.matches("<svg x=").count(), 24);
            assert!(!svg.contains("Empty"));
        }
        assert_eq!(wall("Nothing", "", &[], Paper::A4).len(), 1);
    }

    #[test]
    fn a_card_shows_one_to_three_things_and_hostile_names_stay_text() {
        let things: Vec<Drawn> = [View::BowHand, View::LeftHand, View::Body].map(|view| drawn("<b>&\"", view)).into();
        for count in 0..=3 {
            let card = stand_card("\u{202e}Ærø <script>", "viola", &things[..count]);
            let svg = card.svg();
            assert!(!svg.contains("<script>") && !svg.contains("<b>"));
            assert_eq!(svg.matches("<svg x=").count(), count);
            assert!(pdf(&[card], "card").expect("a file").len() > 800);
        }
    }
}
