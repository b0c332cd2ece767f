//! What the child shows on a card: drawings, and words beside them that are as large as fits.

use super::{CardThing, FamilyCard, MARGIN, count};
use crate::measure::{fitting, width, wrapped};
use crate::pdf::Drawing;

/// What the child shows, between two heights.
pub(super) fn things(page: &mut Drawing, card: &FamilyCard, (top, bottom): (f64, f64)) {
    if card.things.is_empty() {
        return;
    }
    let across = page.size().0;
    let size = [4.2, 3.6].into_iter().find(|size| width(&card.show, *size) <= across - 2.0 * MARGIN).unwrap_or(3.0);
    page.text((MARGIN, top + 4.2), size, "start", true, &fitting(&card.show, across - 2.0 * MARGIN, size));
    let top = top + 6.0;
    let room = (bottom - top) / count(card.things.len());
    let words = MARGIN + 54.0;
    let most = across - MARGIN - words;
    // As large as everything fits; one size for all of them.
    let set = |scale: f64| card.things.iter().map(|thing| thing_lines(thing, card, (most, scale))).collect::<Vec<_>>();
    let fits = |lines: &Vec<Vec<Line>>| lines.iter().all(|lines| lines.last().is_none_or(|last| last.below <= room));
    let lines = SCALES.into_iter().map(set).find(fits).unwrap_or_else(|| set(SMALLEST));
    for (number, (thing, lines)) in card.things.iter().zip(lines).enumerate() {
        let y = top + count(number) * room;
        // A single drawing is not larger than it has to be.
        if let Some(figure) = &thing.figure {
            page.figure((MARGIN, y + 1.0), (50.0, (room - 2.0).min(60.0)), figure);
        }
        for Line { below, size, bold, text } in lines.iter().filter(|line| line.below <= room) {
            page.text((words, y + below), *size, "start", *bold, text);
        }
    }
}

/// Sizes of the words beside a drawing, in parts of the usual.
const SCALES: [f64; 5] = [1.0, 0.9, 0.82, 0.74, 0.67];
/// The smallest of them: letters of 2.5 mm.
const SMALLEST: f64 = 0.6;

/// A line beside a drawing.
struct Line {
    /// So far below the top of its part.
    below: f64,
    size: f64,
    bold: bool,
    text: String,
}

/// The lines beside a drawing: its name, the sign, what the child says to itself.
fn thing_lines(thing: &CardThing, card: &FamilyCard, (most, scale): (f64, f64)) -> Vec<Line> {
    let (name, size, step) = (4.6 * scale, 4.2 * scale, 5.2 * scale);
    let mut below = 6.0 * scale;
    let mut lines = vec![Line { below, size: name, bold: true, text: fitting(&thing.name, most, name) }];
    let cue = Some(format!("“{}”", thing.cue)).filter(|_| !thing.cue.is_empty());
    let sign = wrapped(&format!("{} {}", card.see, thing.sign), most, size);
    let cue = cue.iter().flat_map(|cue| wrapped(cue, most, size)).enumerate();
    let gap = |number: usize| if number == 0 { 0.8 * scale } else { 0.0 };
    let cue = cue.map(|(number, text)| (gap(number), true, text));
    for (gap, bold, text) in sign.into_iter().map(|text| (0.0, false, text)).chain(cue) {
        below += step + gap;
        lines.push(Line { below, size, bold, text });
    }
    lines
}
