//! How wide a text is in the embedded font.

use std::sync::LazyLock;

use ttf_parser::Face;

use crate::pdf::BOLD;

/// The bold weight: nothing is wider than that.
static FACE: LazyLock<Option<Face<'static>>> = LazyLock::new(|| Face::parse(BOLD, 0).ok());

/// Letters that most texts are made of, measured once.
const USUAL: usize = 0x250;
static WIDTHS: LazyLock<Vec<f64>> =
    LazyLock::new(|| (0..USUAL).filter_map(|code| char::from_u32(u32::try_from(code).ok()?)).map(measured).collect());

/// How wide a text is at a font size, both in millimetres, at most: letters as wide as in bold, without kerning. A letter that the font
/// does not have counts as wide as the font is high.
#[must_use]
pub fn width(text: &str, size: f64) -> f64 {
    text.chars().map(letter).sum::<f64>() * size
}

/// The advance of a letter as a part of the font's size.
fn letter(letter: char) -> f64 {
    let usual = usize::try_from(u32::from(letter)).ok().and_then(|code| WIDTHS.get(code));
    usual.copied().unwrap_or_else(|| measured(letter))
}

fn measured(letter: char) -> f64 {
    let Some(face) = &*FACE else { return 1.0 };
    let advance = face.glyph_index(letter).and_then(|glyph| face.glyph_hor_advance(glyph));
    advance.map_or(1.0, |advance| f64::from(advance) / f64::from(face.units_per_em()))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn wide_letters_are_wide_and_the_size_counts() {
        assert!(width("WWWW", 4.0) > 2.0 * width("llll", 4.0));
        assert!((width("Ada", 8.0) - 2.0 * width("Ada", 4.0)).abs() < 1e-9);
        assert!((width("美咲", 4.0) - 8.0).abs() < 1e-9 && width("", 4.0) == 0.0);
    }
}
