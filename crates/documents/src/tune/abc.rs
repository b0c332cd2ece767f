//! A tune out of ABC notation (2.1): the first voice of its first tune.

use std::collections::BTreeMap;

use bright_row_core::craft::pitch::midi_of;
use bright_row_core::craft::tune::{Meter, TuneFault};

use super::abc_words::{Fraction, fraction, key, meter, tempo};
use super::incoming::Incoming;
use super::{LeftOut, ReadTune, TuneFileError};

/// Letters in the order in which sharps come.
const SHARPS: [char; 7] = ['F', 'C', 'G', 'D', 'A', 'E', 'B'];

pub(super) fn read(text: &str) -> Result<ReadTune, TuneFileError> {
    let mut reader = Reader::default();
    let mut lines = text.lines().map(|line| line.split('%').next().unwrap_or_default().trim());
    for line in lines.by_ref() {
        match field(line) {
            Some((letter, words)) => reader.field(letter, words)?,
            None if line.is_empty() && reader.begun => break,
            None if reader.in_music => reader.line(line)?,
            // Words before the first tune.
            None => {}
        }
    }
    if !reader.in_music {
        return Err(TuneFileError::Unknown);
    }
    if lines.any(|line| field(line).is_some_and(|(letter, _)| letter == 'X')) {
        reader.tune.left_out.insert(LeftOut::Tunes);
    }
    reader.tune.finish()
}

/// `K:D` as its letter and what it says; a note before a repeat, `A:|`, is none.
fn field(line: &str) -> Option<(char, &str)> {
    let letter = line.chars().next().filter(char::is_ascii_alphabetic)?;
    let words = line[1..].strip_prefix(':')?.trim();
    (!words.starts_with(['|', ':'])).then_some((letter, words))
}

#[derive(Default)]
struct Reader {
    tune: Incoming,
    /// The tune's number was read.
    begun: bool,
    /// Its key was read: what follows is music.
    in_music: bool,
    /// The length of a note without a number.
    unit: Option<Fraction>,
    tempo: String,
    /// The voice that lines belong to; the first is read.
    voice: Option<String>,
    other_voice: bool,
    /// Semitones of sharps and flats that hold until the bar line, by letter and octave.
    bent: BTreeMap<(char, i32), i32>,
    /// How much longer or shorter the next note is, in 1/`under`.
    broken: Option<Fraction>,
    /// The note read last, which waits for what stands behind it: its length may change yet.
    waiting: Option<(Option<u8>, Fraction, bool)>,
}

impl Reader {
    fn field(&mut self, letter: char, words: &str) -> Result<(), TuneFileError> {
        let bar = self.tune.bar();
        match letter {
            'X' => self.begun = true,
            'T' if self.tune.name.is_empty() => words.clone_into(&mut self.tune.name),
            'M' => {
                let meter = meter(words)
                    .ok_or_else(|| TuneFileError::Tune(TuneFault::Meter(words.chars().take(20).collect())))?;
                if self.tune.meter.replace(meter).is_some_and(|before| before != meter) {
                    return Err(TuneFileError::Changes("meter", bar));
                }
            }
            'L' => self.unit = fraction(words),
            'Q' => words.clone_into(&mut self.tempo),
            'K' => {
                let key = key(words).ok_or_else(|| no_music(bar, &format!("K:{words}")))?;
                if self.tune.key.replace(key).is_some_and(|before| before != key) {
                    return Err(TuneFileError::Changes("key", bar));
                }
                (self.begun, self.in_music) = (true, true);
                let beat = self.tune.meter.map_or(2, Meter::beat_eighths);
                self.tune.tempo = tempo(&self.tempo, beat);
            }
            'V' if self.in_music => self.voice(words),
            _ => {}
        }
        Ok(())
    }

    fn voice(&mut self, words: &str) {
        let name = words.split_whitespace().next().unwrap_or_default();
        let first = self.voice.get_or_insert_with(|| name.to_owned());
        self.other_voice = first != name;
        if self.other_voice {
            self.tune.left_out.insert(LeftOut::Voices);
        }
    }

    fn line(&mut self, line: &str) -> Result<(), TuneFileError> {
        if self.other_voice {
            return Ok(());
        }
        let mut rest = line;
        while let Some(sign) = rest.chars().next() {
            rest = self.sign(sign, rest)?;
        }
        self.put(None)
    }

    /// Takes what stands first; answers what stands behind it.
    fn sign<'a>(&mut self, sign: char, rest: &'a str) -> Result<&'a str, TuneFileError> {
        let behind = &rest[sign.len_utf8()..];
        match sign {
            'A'..='G' | 'a'..='g' | '^' | '_' | '=' | 'z' | 'x' => self.note(rest),
            '|' | ':' => self.bar_line(rest),
            '-' => {
                if let Some((_, _, ties)) = &mut self.waiting {
                    *ties = true;
                }
                Ok(behind)
            }
            '>' | '<' => {
                let many = rest.chars().take_while(|other| *other == sign).count();
                let part = 1_u32 << many.min(3);
                let (first, second) = ((2 * part - 1, part), (1, part));
                let (before, after) = if sign == '>' { (first, second) } else { (second, first) };
                if let Some((_, length, _)) = &mut self.waiting {
                    *length = times(*length, before);
                }
                self.broken = Some(after);
                Ok(&rest[many..])
            }
            '"' | '!' | '{' | '+' => {
                let end = if sign == '{' { '}' } else { sign };
                if sign == '{' {
                    self.tune.left_out.insert(LeftOut::Grace);
                }
                let (_, behind) = behind.split_once(end).ok_or_else(|| no_music(self.tune.bar(), rest))?;
                Ok(behind)
            }
            '[' => self.bracket(rest),
            '(' if behind.starts_with(|next: char| next.is_ascii_digit()) => Err(TuneFileError::Short(self.tune.bar())),
            // Slurs, signs of expression, beams that end here, a line that goes on.
            '(' | ')' | '.' | '~' | 'H'..='W' | 'h'..='w' | ' ' | '\t' | '`' | '\\' | '$' | '*' | 'y' => Ok(behind),
            _ => Err(no_music(self.tune.bar(), rest)),
        }
    }

    /// A chord, whose first note is taken, a field within the line, or an ending that is played another time.
    fn bracket<'a>(&mut self, rest: &'a str) -> Result<&'a str, TuneFileError> {
        let inside = &rest[1..];
        if inside.starts_with(|next: char| next.is_ascii_digit()) {
            self.tune.left_out.insert(LeftOut::Repeats);
            return Ok(inside.trim_start_matches(|next: char| next.is_ascii_digit() || next == ',' || next == '-'));
        }
        if inside.starts_with('|') {
            return self.bar_line(inside);
        }
        let (inside, behind) = inside.split_once(']').ok_or_else(|| no_music(self.tune.bar(), rest))?;
        if let Some((letter, words)) = field(inside) {
            self.field(letter, words)?;
            return Ok(behind);
        }
        let others = self.note(inside)?;
        if !others.trim().is_empty() {
            self.tune.left_out.insert(LeftOut::Chords);
        }
        // A length behind the chord is every note's.
        let (length, behind) = length(behind);
        if let Some((_, own, _)) = &mut self.waiting {
            *own = times(*own, length);
        }
        Ok(behind)
    }

    fn bar_line<'a>(&mut self, rest: &'a str) -> Result<&'a str, TuneFileError> {
        let behind = rest.trim_start_matches(['|', ':', ']']);
        let line = &rest[..rest.len() - behind.len()];
        if line.contains(':') {
            self.tune.left_out.insert(LeftOut::Repeats);
        }
        self.put(None)?;
        self.tune.bar_line();
        self.bent.clear();
        // `|1` begins an ending.
        if behind.starts_with(|next: char| next.is_ascii_digit()) {
            self.tune.left_out.insert(LeftOut::Repeats);
        }
        Ok(behind.trim_start_matches(|next: char| next.is_ascii_digit()))
    }

    fn note<'a>(&mut self, rest: &'a str) -> Result<&'a str, TuneFileError> {
        let bar = self.tune.bar();
        let behind = rest.trim_start_matches(['^', '_', '=']);
        let signs = &rest[..rest.len() - behind.len()];
        let bend = match signs {
            "" => None,
            "=" => Some(0),
            "^" => Some(1),
            "^^" => Some(2),
            "_" => Some(-1),
            "__" => Some(-2),
            _ => return Err(no_music(bar, rest)),
        };
        let letter = behind.chars().next().unwrap_or_default();
        let mut behind = behind.get(1..).unwrap_or_default();
        let midi = match letter {
            'z' | 'x' if bend.is_none() => None,
            'A'..='G' | 'a'..='g' => {
                let marks = behind.trim_start_matches(['\'', ',']);
                let octaves = &behind[..behind.len() - marks.len()];
                behind = marks;
                Some(self.pitch(letter, octaves, bend, bar)?)
            }
            _ => return Err(no_music(bar, rest)),
        };
        let (length, behind) = length(behind);
        let unit = self.unit.unwrap_or((1, 8));
        let length = times(times(unit, length), self.broken.take().unwrap_or((1, 1)));
        self.put(Some((midi, length, false)))?;
        Ok(behind)
    }

    fn pitch(&mut self, letter: char, octaves: &str, bend: Option<i32>, bar: usize) -> Result<u8, TuneFileError> {
        let upper = letter.to_ascii_uppercase();
        let many = |mark| i32::try_from(octaves.matches(mark).count()).unwrap_or(99);
        let octave = if letter.is_ascii_uppercase() { 4 } else { 5 } + many('\'') - many(',');
        if let Some(bend) = bend {
            self.bent.insert((upper, octave), bend);
        }
        let of_key = || {
            let sharps = i32::from(self.tune.key.map_or(0, |key| key.sharps));
            let place =
                i32::try_from(SHARPS.iter().position(|name| *name == upper).unwrap_or_default()).unwrap_or_default();
            // F has the first sharp, B the first flat.
            if place < sharps {
                1
            } else if 6 - place < -sharps {
                -1
            } else {
                0
            }
        };
        let bent = self.bent.get(&(upper, octave)).copied().unwrap_or_else(of_key);
        let natural = midi_of(&format!("{upper}{octave}"));
        let midi = natural.and_then(|natural| u8::try_from(i32::from(natural) + bent).ok());
        midi.ok_or_else(|| no_music(bar, &format!("{letter}{octaves}")))
    }

    /// Hands the note that waits to the tune; the next one waits in its place.
    fn put(&mut self, next: Option<(Option<u8>, Fraction, bool)>) -> Result<(), TuneFileError> {
        if let Some((midi, (over, under), ties)) = std::mem::replace(&mut self.waiting, next) {
            if under == 0 || over * 8 % under != 0 || over == 0 {
                return Err(TuneFileError::Short(self.tune.bar()));
            }
            self.tune.note(midi, over * 8 / under, ties)?;
        }
        Ok(())
    }
}

/// The length behind a note, `2`, `/2`, `3/2`, `/`, `//`, as a share of the unit; and what stands behind it.
fn length(text: &str) -> (Fraction, &str) {
    let digits = |text: &str| text.len() - text.trim_start_matches(|sign: char| sign.is_ascii_digit()).len();
    let number = |text: &str| text.parse::<u32>().unwrap_or(u32::MAX).min(1_000);
    let (over, rest) = text.split_at(digits(text));
    let over = if over.is_empty() { 1 } else { number(over) };
    let behind = rest.trim_start_matches('/');
    let slashes = rest.len() - behind.len();
    let (under, behind) = if slashes == 0 { ("", rest) } else { behind.split_at(digits(behind)) };
    let halves = 1_u32 << slashes.min(6);
    let under = if under.is_empty() { halves } else { number(under) };
    ((over, under), behind)
}

fn times((over, under): Fraction, (by, of): Fraction) -> Fraction {
    let (over, under) = (over.saturating_mul(by), under.saturating_mul(of));
    let (mut a, mut b) = (over, under);
    while b != 0 {
        (a, b) = (b, a % b);
    }
    (over / a.max(1), under / a.max(1))
}

fn no_music(bar: usize, rest: &str) -> TuneFileError {
    TuneFileError::NoMusic(bar, rest.chars().take(12).collect())
}
