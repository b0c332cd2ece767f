//! What readers of music gather, bar by bar, and the tune that it makes.

use std::collections::BTreeSet;

use bright_row_core::craft::tune::{
    Key, Line, MAX_HELD_EIGHTHS, MAX_TUNE_NAME_LENGTH, MAX_TUNE_NOTES, Meter, Tune, TuneFault, TuneNote, line, tempo,
};

use super::{LeftOut, ReadTune, TuneFileError};

/// A tune under way.
#[derive(Debug, Default)]
pub(super) struct Incoming {
    pub(super) name: String,
    pub(super) key: Option<Key>,
    pub(super) meter: Option<Meter>,
    pub(super) tempo: Option<u32>,
    pub(super) left_out: BTreeSet<LeftOut>,
    notes: Vec<TuneNote>,
    /// Where bars end, in eighths from the beginning, with the number that the file's reader knows them by.
    ends: Vec<u32>,
    at: u32,
    /// The pitch that is tied to what follows.
    held: Option<u8>,
}

impl Incoming {
    /// The number of the bar under way, from 1.
    pub(super) fn bar(&self) -> usize {
        self.ends.len() + 1
    }

    /// A note, or a rest; `ties` where it is tied to the next.
    pub(super) fn note(&mut self, midi: Option<u8>, eighths: u32, ties: bool) -> Result<(), TuneFileError> {
        let held = std::mem::take(&mut self.held);
        self.at = self.at.saturating_add(eighths);
        let full = self.notes.len() == MAX_TUNE_NOTES;
        let goes_on = self.notes.last_mut().filter(|_| midi.is_some() && held == midi);
        let before = goes_on.as_ref().map_or(0, |note| u32::from(note.eighths));
        let eighths = u8::try_from(before + eighths).ok().filter(|all| *all <= MAX_HELD_EIGHTHS);
        let eighths = eighths.ok_or(TuneFileError::Tune(TuneFault::NoNote("a note that long".to_owned())))?;
        match goes_on {
            Some(note) => note.eighths = eighths,
            None if full => return Err(TuneFault::TooLong.into()),
            None => self.notes.push(TuneNote { midi, eighths }),
        }
        self.held = midi.filter(|_| ties);
        Ok(())
    }

    /// A bar line; two of them are one.
    pub(super) fn bar_line(&mut self) {
        if self.ends.last().copied().unwrap_or_default() < self.at {
            self.ends.push(self.at);
        }
    }

    /// The tune, where it can be one of ours.
    pub(super) fn finish(mut self) -> Result<ReadTune, TuneFileError> {
        self.bar_line();
        let key = self.key.unwrap_or(Key { sharps: 0, minor: false });
        if key.name().is_none() {
            let of = if key.sharps < 0 { "flats" } else { "sharps" };
            return Err(TuneFileError::Key(format!("{} {of}", key.sharps.unsigned_abs())));
        }
        let meter = self.meter.unwrap_or(Meter { beats: 4, unit: 4 });
        let pickup_eighths = self.pickup(meter)?;
        let beats = self.tempo.and_then(|beats| u16::try_from(beats).ok()).and_then(|beats| tempo(beats).ok());
        let name: String = self.name.split_whitespace().collect::<Vec<_>>().join(" ");
        let name = name.chars().filter(|letter| !letter.is_control()).take(MAX_TUNE_NAME_LENGTH).collect();
        let mut tune = Tune { id: String::new(), name, key, meter, tempo: beats, pickup_eighths, notes: self.notes };
        // What the page sends back is its text: the tune is what that text says.
        let Line { notes, pickup_eighths } = line(&tune.text(), meter.eighths())?;
        (tune.notes, tune.pickup_eighths) = (notes, pickup_eighths);
        Ok(ReadTune { tune, left_out: self.left_out.into_iter().collect() })
    }

    /// How many eighths stand before the first whole bar. Bars in the middle are whole, or two of them are one together, as at
    /// repeats.
    fn pickup(&self, meter: Meter) -> Result<u8, TuneFileError> {
        let whole = u32::from(meter.eighths());
        let first = self.ends.first().copied().unwrap_or_default();
        let pickup = if first < whole && self.ends.len() > 1 { first } else { 0 };
        let mut begins = pickup;
        for (number, end) in (1..).zip(&self.ends).skip(usize::from(pickup > 0)) {
            let last = number == self.ends.len();
            if end - begins >= whole || last {
                if end - begins != whole && !(last && end - begins < whole) {
                    return Err(TuneFileError::Bar(number, end - begins, meter.eighths()));
                }
                begins = *end;
            } else {
                let together = self.ends.get(number).is_some_and(|next| next - begins == whole);
                if !together {
                    return Err(TuneFileError::Bar(number, end - begins, meter.eighths()));
                }
            }
        }
        Ok(u8::try_from(pickup).unwrap_or_default())
    }
}
