//! Tags for instruments: what it is, and a QR code that opens its page.

use qrcode::{Color, EcLevel, QrCode};

use crate::pdf::{Drawing, Paper, fitting};

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

/// Width and height of a tag, in millimetres.
const TAG: (f64, f64) = (62.0, 32.0);
/// Free paper around the tags that every printer leaves white.
const MARGIN: f64 = 9.0;

/// Sheets of tags, in order, as many to a sheet as fit.
#[must_use]
pub fn sheets(labels: &[Label], paper: Paper) -> Vec<Drawing> {
    let (width, height) = paper.size_mm();
    let across = fits(width, TAG.0);
    let down = fits(height, TAG.1);
    let left = (width - count(across) * TAG.0) / 2.0;
    let top = (height - count(down) * TAG.1) / 2.0;
    let sheet = |labels: &[Label]| {
        let mut page = Drawing::new((width, height));
        for (place, label) in labels.iter().enumerate() {
            let at = (left + count(place % across) * TAG.0, top + count(place / across) * TAG.1);
            draw(&mut page, at, label);
        }
        page
    };
    labels.chunks(across * down).map(sheet).collect()
}

fn fits(paper: f64, tag: f64) -> usize {
    (1..=50).take_while(|many| count(*many) * tag + 2.0 * MARGIN <= paper).last().unwrap_or(1)
}

fn count(number: usize) -> f64 {
    f64::from(u32::try_from(number).unwrap_or(u32::MAX))
}

fn draw(page: &mut Drawing, (x, y): (f64, f64), label: &Label) {
    page.frame((x + 1.0, y + 1.0), (TAG.0 - 2.0, TAG.1 - 2.0), 2.0);
    page.text((x + 5.0, y + 12.0), 8.0, "start", true, &fitting(&label.tag, 30.0, 8.0));
    page.text((x + 5.0, y + 19.5), 4.2, "start", false, &fitting(&label.what, 30.0, 4.2));
    page.text((x + 5.0, y + 27.0), 2.8, "start", false, &fitting(&label.owner, 30.0, 2.8));
    if let Some(path) = code(&label.address, (x + 36.0, y + 4.5), 23.0) {
        page.fill(&path);
    }
}

/// A QR code as path data, `side` millimetres wide with its quiet zone; `None` for a text no code holds.
fn code(text: &str, (x, y): (f64, f64), side: f64) -> Option<String> {
    let code = QrCode::with_error_correction_level(text, EcLevel::M).ok()?;
    let quiet = 2.0;
    let module = side / (count(code.width()) + 2.0 * quiet);
    let mut path = String::new();
    for (index, color) in code.to_colors().into_iter().enumerate() {
        if color == Color::Dark {
            let (column, row) = (count(index % code.width()), count(index / code.width()));
            let (left, top) = (x + (quiet + column) * module, y + (quiet + row) * module);
            path += &format!("M{left:.3} {top:.3}h{module:.3}v{module:.3}h-{module:.3}z");
        }
    }
    Some(path)
}
