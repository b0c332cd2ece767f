//! What stands in the heading of a tune in ABC notation: keys, meters, lengths, tempos.

use bright_row_core::craft::tune::{Key, Meter};

/// A fraction of a whole note.
pub(super) type Fraction = (u32, u32);

/// The sharps of each letter's major key; a sharp or flat after it is seven more or fewer.
const MAJOR: [(char, i8); 7] = [('C', 0), ('D', 2), ('E', 4), ('F', -1), ('G', 1), ('A', 3), ('B', 5)];
/// Modes by their first three letters, and how many fifths they lie from major.
const MODES: [(&str, i8); 9] =
    [("maj", 0), ("ion", 0), ("mix", -1), ("dor", -2), ("aeo", -3), ("min", -3), ("phr", -4), ("loc", -5), ("lyd", 1)];

/// The key of `D`, `Bm`, `F# minor`, `G mix`; C where there is none.
pub(super) fn key(text: &str) -> Option<Key> {
    let text = text.trim();
    if text.is_empty() || text.starts_with("none") {
        return Some(Key { sharps: 0, minor: false });
    }
    let letter = text.chars().next()?;
    let (_, fifths) = MAJOR.into_iter().find(|(name, _)| *name == letter)?;
    let rest = &text[1..];
    let (bend, rest) = match rest.chars().next() {
        Some('#') => (7, &rest[1..]),
        Some('b') => (-7, &rest[1..]),
        _ => (0, rest),
    };
    // What follows the mode says which clef; it changes nothing here.
    let mode = rest.split_whitespace().next().unwrap_or_default().to_lowercase();
    let mode = if mode.contains('=') { String::new() } else { mode };
    let (minor, fewer) = match mode.as_str() {
        "" | "clef" | "treble" | "bass" | "alto" => (false, 0),
        "m" => (true, -3),
        other => {
            let (name, fewer) = MODES.into_iter().find(|(name, _)| other.starts_with(name))?;
            (matches!(name, "min" | "aeo"), fewer)
        }
    };
    Some(Key { sharps: fifths + bend + fewer, minor })
}

/// The meter of `4/4`, `C` or `C|`.
pub(super) fn meter(text: &str) -> Option<Meter> {
    match text.trim() {
        // Two halves are counted in quarters here.
        "C" | "C|" | "2/2" => Meter::parse("4/4").ok(),
        other => Meter::parse(other).ok(),
    }
}

/// A fraction of small numbers, `1/8`.
pub(super) fn fraction(text: &str) -> Option<Fraction> {
    let (over, under) = text.trim().split_once('/')?;
    let small = |text: &str| text.trim().parse::<u32>().ok().filter(|number| (1..=64).contains(number));
    small(over).zip(small(under))
}

/// The beats a minute of `1/4=80`, `"Slowly" 1/4=80` or `80`, counted in beats of so many eighths.
pub(super) fn tempo(text: &str, beat_eighths: u8) -> Option<u32> {
    let said = text.rsplit('"').next().filter(|rest| !rest.trim().is_empty()).unwrap_or(text);
    let (of, beats) = said.split_once('=').map_or((None, said), |(of, beats)| (fraction(of), beats));
    let beats: u32 = beats.trim().parse().ok().filter(|beats| (1..=1_000).contains(beats))?;
    let (over, under) = of.unwrap_or((u32::from(beat_eighths), 8));
    Some((beats * over * 8 + under * u32::from(beat_eighths) / 2) / (under * u32::from(beat_eighths)))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn keys_meters_and_tempos_are_what_they_say() {
        let sharps = |text: &str| key(text).map(|key| (key.sharps, key.minor));
        for (text, expected) in [
            ("D", (2, false)),
            ("Bm", (2, true)),
            ("F# minor", (3, true)),
            ("Bb", (-2, false)),
            ("A Dorian", (1, false)),
            ("Gmix", (0, false)),
            ("Em clef=treble", (1, true)),
            ("G clef=treble", (1, false)),
            ("none", (0, false)),
            ("", (0, false)),
        ] {
            assert_eq!(sharps(text), Some(expected), "{text}");
        }
        assert_eq!(sharps("H"), None);
        assert_eq!(sharps("Hp"), None);
        assert_eq!(meter("C"), Meter::parse("4/4").ok());
        assert_eq!(meter("9/8"), None);
        assert_eq!(tempo("1/4=80", 2), Some(80));
        assert_eq!(tempo("\"Slowly\" 1/4=72", 2), Some(72));
        assert_eq!(tempo("3/8=60", 3), Some(60));
        assert_eq!(tempo("1/8=180", 3), Some(60));
        assert_eq!(tempo("90", 2), Some(90));
        assert_eq!(tempo("\"Slowly\"", 2), None);
    }
}
