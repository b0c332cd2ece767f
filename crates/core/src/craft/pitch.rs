//! Pitches and what they are called.

/// MIDI note number of A4.
pub const A4_MIDI: u8 = 69;

/// Names in the keys that beginners play in.
const NAMES: [&str; 12] = ["C", "C#", "D", "Eb", "E", "F", "F#", "G", "G#", "A", "Bb", "B"];

/// What a pitch is called, by its MIDI note number, in the keys that beginners play in: `F sharp`.
#[must_use]
pub fn name(midi: u8) -> String {
    spoken(NAMES[usize::from(midi % 12)])
}

/// A written note name as it is said: `F#` is `F sharp`.
#[must_use]
pub fn spoken(written: &str) -> String {
    match written.as_bytes() {
        [letter, b'#', ..] => format!("{} sharp", char::from(*letter)),
        [letter, b'b', ..] => format!("{} flat", char::from(*letter)),
        _ => written.to_owned(),
    }
}

/// Letter, sharp or flat, and octave of a MIDI note number, `F#4`.
#[must_use]
pub fn note_name(midi: u8) -> String {
    format!("{}{}", NAMES[usize::from(midi % 12)], i16::from(midi / 12) - 1)
}

/// The MIDI number of a note written as letter, optional `#` or `b`, and octave (`C#3`); `None` if it is not one.
#[must_use]
pub fn midi_of(note: &str) -> Option<u8> {
    let mut letters = note.chars();
    let step = match letters.next()? {
        'C' => 0,
        'D' => 2,
        'E' => 4,
        'F' => 5,
        'G' => 7,
        'A' => 9,
        'B' => 11,
        _ => return None,
    };
    let rest = letters.as_str();
    let (bend, octave) = match rest.chars().next()? {
        '#' => (1, &rest[1..]),
        'b' => (-1, &rest[1..]),
        _ => (0, rest),
    };
    let octave: i16 = octave.parse().ok()?;
    u8::try_from((octave + 1) * 12 + step + bend).ok().filter(|midi| *midi < 128)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn notes_are_read_with_their_octave_and_sharp_or_flat() {
        assert_eq!(midi_of("A4"), Some(69));
        assert_eq!(midi_of("C2"), Some(36));
        assert_eq!(midi_of("F#3"), Some(54));
        assert_eq!(midi_of("Bb3"), Some(58));
        assert_eq!(midi_of("H4"), None);
        assert_eq!(midi_of("A"), None);
        assert_eq!(midi_of("C99"), None);
    }
}
