//! Pitches and what they are called.

use std::fmt;

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

/// A pitch as it is written on a staff.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Spelled {
    /// A to G.
    pub step: char,
    /// Semitones by which it is bent: 1 for a sharp, -1 for a flat.
    pub alter: i8,
    /// Its octave; 4 begins at middle C.
    pub octave: i8,
}

impl fmt::Display for Spelled {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let bend = match self.alter {
            1.. => "#",
            0 => "",
            _ => "b",
        };
        write!(f, "{}{bend}{}", self.step, self.octave)
    }
}

/// How a pitch is written in a key of so many sharps (negative for flats), major or minor: a note of the key as the key has it, any other as a
/// natural where it is one, else nearest to the key on the line of fifths (from three fifths below its keynote to eight above).
#[must_use]
pub fn spelled(midi: u8, sharps: i8) -> Spelled {
    // On the line of fifths F is -1, C 0, G 1: a fifth is seven semitones, and seven times seven is one more than four octaves.
    let place = |lowest: i8| {
        let above = (i16::from(midi) * 7 - i16::from(lowest)).rem_euclid(12);
        lowest + i8::try_from(above).unwrap_or_default()
    };
    let (of_key, natural) = (place(sharps - 1), place(-1));
    let fifths = match (of_key <= sharps + 5, natural <= 5) {
        (true, _) => of_key,
        (false, true) => natural,
        (false, false) => place(sharps - 3),
    };
    let letter = usize::try_from((fifths + 1).rem_euclid(7)).unwrap_or_default();
    let alter = (fifths + 1).div_euclid(7);
    let octave = (i16::from(midi) - i16::from(alter)).div_euclid(12) - 1;
    Spelled { step: b"FCGDAEB"[letter].into(), alter, octave: i8::try_from(octave).unwrap_or_default() }
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

    #[test]
    fn a_key_spells_its_own_notes_and_every_spelling_sounds_as_it_should() {
        for (sharps, scale) in [
            (0, "C D E F G A B"),
            (2, "D E F#1 G A B C#1"),
            (4, "E F#1 G#1 A B C#1 D#1"),
            (-1, "F G A B#-1 C D E"),
            (-3, "E#-1 F G A#-1 B#-1 C D"),
        ] {
            let steps = [0, 2, 4, 5, 7, 9, 11];
            let keynote = u8::try_from((i16::from(sharps) * 7).rem_euclid(12)).expect("a pitch class") + 60;
            let written = steps.map(|step| {
                let Spelled { step, alter, .. } = spelled(keynote + step, sharps);
                if alter == 0 { step.to_string() } else { format!("{step}#{alter}") }
            });
            assert_eq!(written.join(" "), scale, "{sharps}");
        }
        for sharps in -3..=4 {
            for midi in 12..=119 {
                let Spelled { step, alter, octave } = spelled(midi, sharps);
                let natural = midi_of(&format!("{step}{octave}")).expect("a note");
                assert_eq!(i16::from(natural) + i16::from(alter), i16::from(midi), "{midi} in {sharps}");
                assert!((-1..=1).contains(&alter), "{midi} in {sharps}");
            }
        }
    }
}
