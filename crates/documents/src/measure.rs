//! How wide a text is in the embedded fonts, and texts cut or broken into lines by that.

use std::sync::LazyLock;

use crate::fonts::{SetIn, USUAL, advance};

/// Letters that most texts are made of, measured once in our own font.
static WIDTHS: LazyLock<Vec<f64>> = LazyLock::new(|| {
    let letters = (0..USUAL).filter_map(char::from_u32);
    letters.map(|letter| measured(letter, SetIn::Own)).collect()
});

/// How wide a text is at a font size, both in millimetres, at most: letters as wide as in bold, without kerning. A letter that no font
/// has counts as wide as the fonts are high.
#[must_use]
pub fn width(text: &str, size: f64) -> f64 {
    let set_in = SetIn::of(text);
    text.chars().map(|letter| of_letter(letter, set_in)).sum::<f64>() * size
}

/// The advance of a letter as a part of the font's size.
fn of_letter(letter: char, set_in: SetIn) -> f64 {
    let usual = usize::try_from(u32::from(letter)).ok().filter(|_| set_in == SetIn::Own);
    usual.and_then(|code| WIDTHS.get(code)).copied().unwrap_or_else(|| measured(letter, set_in))
}

fn measured(letter: char, set_in: SetIn) -> f64 {
    advance(letter, set_in).unwrap_or(1.0)
}

/// As much of a text as fits into `mm` at this font size, with an ellipsis where it was cut.
#[must_use]
pub fn fitting(text: &str, mm: f64, size: f64) -> String {
    if width(text, size) <= mm {
        return text.to_owned();
    }
    let set_in = SetIn::of(text);
    let room = mm - of_letter('…', set_in) * size;
    let mut kept = String::new();
    let mut used = 0.0;
    for letter in text.chars() {
        used += of_letter(letter, set_in) * size;
        // One letter says more than none.
        if used > room && !kept.is_empty() {
            break;
        }
        kept.push(letter);
    }
    format!("{}…", kept.trim_end())
}

/// A text in lines that fit a width, broken between words; a word that is longer than a line is broken where it must be.
#[must_use]
pub fn wrapped(text: &str, mm: f64, size: f64) -> Vec<String> {
    let mut lines = vec![String::new()];
    for word in text.split_whitespace() {
        for (number, part) in pieces(word, mm, size).into_iter().enumerate() {
            let last = lines.last_mut().expect("there is a line");
            if last.is_empty() {
                *last = part;
            } else if number == 0 && width(last, size) + width(" ", size) + width(&part, size) <= mm {
                last.push(' ');
                last.push_str(&part);
            } else {
                lines.push(part);
            }
        }
    }
    lines
}

/// A word in pieces that fit a width, each as long as can be and of one letter at least.
fn pieces(word: &str, mm: f64, size: f64) -> Vec<String> {
    let set_in = SetIn::of(word);
    let mut pieces = vec![String::new()];
    let mut used = 0.0;
    for letter in word.chars() {
        let wide = of_letter(letter, set_in) * size;
        let last = pieces.last_mut().expect("there is a piece");
        if used + wide > mm && !last.is_empty() {
            pieces.push(letter.to_string());
            used = wide;
        } else {
            last.push(letter);
            used += wide;
        }
    }
    pieces
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
