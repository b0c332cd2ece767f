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

/// Width and height of a tag, in millimetres.
const TAG: (f64, f64) = (62.0, 32.0);
/// The room for words beside the code, in millimetres.
const TEXT: f64 = 30.0;
/// The room for the tag itself above the others.
const TAG_HEIGHT: f64 = 10.0;
/// Font sizes of the tag, in millimetres.
const SIZES: [f64; 5] = [8.0, 6.0, 4.5, 3.6, 3.0];
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

/// A tag, whole, as large as it can be: in one line or several beside the code.
fn tag_lines(tag: &str) -> (f64, Vec<String>) {
    let set = |size: f64| (size, wrapped(tag, TEXT, size));
    let stands = |(size, lines): &(f64, Vec<String>)| count(lines.len()) * size * 1.1 <= TAG_HEIGHT;
    SIZES.into_iter().map(set).find(stands).unwrap_or_else(|| set(2.4))
}

fn fits(paper: f64, tag: f64) -> usize {
    (1..=50).take_while(|many| count(*many) * tag + 2.0 * MARGIN <= paper).last().unwrap_or(1)
}

fn count(number: usize) -> f64 {
    f64::from(u32::try_from(number).unwrap_or(u32::MAX))
}

fn draw(page: &mut Drawing, (x, y): (f64, f64), label: &Label) {
    page.frame((x + 1.0, y + 1.0), (TAG.0 - 2.0, TAG.1 - 2.0), 2.0);
    let (size, lines) = tag_lines(&label.tag);
    for (number, line) in lines.iter().enumerate() {
        // The last line stands where a single one would.
        let above = count(lines.len() - 1 - number) * size * 1.1;
        page.text((x + 5.0, y + 12.0 - above), size, "start", true, line);
    }
    page.text((x + 5.0, y + 19.5), 4.2, "start", false, &fitting(&label.what, TEXT, 4.2));
    page.text((x + 5.0, y + 27.0), 2.8, "start", false, &fitting(&label.owner, TEXT, 2.8));
    if let Some(path) = qr::path(&label.address, (x + 36.0, y + 4.5), 23.0) {
        page.fill(&path);
    }
}
