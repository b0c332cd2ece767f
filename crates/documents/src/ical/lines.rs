//! The lines of an iCalendar file as every generator writes them, and the entries in them.

use crate::letters;

/// The largest calendar read, in bytes.
pub const LARGEST_CALENDAR: usize = 1024 * 1024;
/// The longest line, in bytes, with those that go on it.
const LONGEST_LINE: usize = 8 * 1024;
/// The most entries read.
const MAX_ENTRIES: usize = 5_000;
/// How deep parts of a calendar may lie in each other: an alarm in an event in a calendar is three.
const MAX_DEPTH: usize = 8;

/// A file that is no calendar.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[error("this is not an iCalendar file: {0}")]
pub struct NotACalendar(pub(super) String);

/// An entry's own lines, alarms in it left out.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Block {
    /// From `BEGIN:VEVENT` to `END:VEVENT`, each line ended by `\n`, names and types in capitals.
    pub text: String,
    /// The calendar it stands in takes back what it names (`METHOD:CANCEL`).
    pub taken_back: bool,
    /// The zone that the calendar it stands in says it is of (`X-WR-TIMEZONE`); empty for none.
    pub zone: String,
}

/// The entries of every calendar in a file, whatever ends its lines and however its letters are written.
///
/// # Errors
/// [`NotACalendar`] for a file that is too large, has too many parts, lies too deep or has no calendar in it.
pub fn blocks(bytes: &[u8]) -> Result<Vec<Block>, NotACalendar> {
    let not = |why: String| Err(NotACalendar(why));
    if bytes.len() > LARGEST_CALENDAR {
        return not(format!("it is larger than {} MB", LARGEST_CALENDAR / 1024 / 1024));
    }
    let Some(read) = letters::read(bytes, None) else { return not("it is no text".to_owned()) };
    let mut parts = Parts::default();
    for line in unfolded(&read.text).split('\n').filter(|line| !line.trim().is_empty()) {
        if line.len() > LONGEST_LINE {
            return not(format!("it has a line longer than {LONGEST_LINE} characters"));
        }
        parts.add(&in_capitals(line))?;
    }
    if !parts.is_calendar {
        return not("no calendar begins in it".to_owned());
    }
    Ok(parts.blocks)
}

/// The text with each line whole: one that begins with a space goes on the one before, and a bare carriage return ends one too.
fn unfolded(text: &str) -> String {
    let text = text.trim_start_matches('\u{feff}').replace("\r\n", "\n").replace('\r', "\n");
    text.replace("\n ", "").replace("\n\t", "")
}

/// A line with its name, its parameters' names and what is one of a list in capitals (RFC 5545, 2 and 3.1: case counts in none).
fn in_capitals(line: &str) -> String {
    let mut quoted = false;
    let ends = line.char_indices().find(|(_, letter)| {
        quoted ^= *letter == '"';
        *letter == ':' && !quoted
    });
    let Some((colon, _)) = ends else { return line.trim().to_owned() };
    let (head, value) = (&line[..colon], &line[colon + 1..]);
    let mut parts = head.split(';');
    let name = parts.next().unwrap_or_default().trim().to_ascii_uppercase();
    let mut whole = name.clone();
    for part in parts {
        let (key, said) = part.split_once('=').unwrap_or((part, ""));
        let key = key.trim().to_ascii_uppercase();
        let said = if key == "VALUE" { said.to_ascii_uppercase() } else { said.to_owned() };
        whole.push_str(&format!(";{key}={said}"));
    }
    let listed = matches!(name.as_str(), "BEGIN" | "END" | "STATUS" | "METHOD" | "RRULE" | "DURATION");
    let value = if listed { value.trim().to_ascii_uppercase() } else { value.to_owned() };
    format!("{whole}:{value}")
}

/// The parts of a file as its lines go by.
#[derive(Default)]
struct Parts {
    /// The names of the parts that are open.
    open: Vec<String>,
    /// How many have begun.
    begun: usize,
    is_calendar: bool,
    taken_back: bool,
    zone: String,
    block: String,
    blocks: Vec<Block>,
}

impl Parts {
    fn add(&mut self, line: &str) -> Result<(), NotACalendar> {
        if let Some(name) = line.strip_prefix("BEGIN:") {
            return self.begin(name);
        }
        if let Some(name) = line.strip_prefix("END:") {
            self.end(name);
            return Ok(());
        }
        match self.open.last().map(String::as_str) {
            Some("VEVENT") => self.block.push_str(&format!("{line}\n")),
            Some("VCALENDAR") if line == "METHOD:CANCEL" => self.taken_back = true,
            Some("VCALENDAR") => {
                if let Some(zone) = line.strip_prefix("X-WR-TIMEZONE:") {
                    zone.trim().clone_into(&mut self.zone);
                }
            }
            _ => {}
        }
        Ok(())
    }

    fn begin(&mut self, name: &str) -> Result<(), NotACalendar> {
        self.begun += 1;
        if self.begun > MAX_ENTRIES {
            return Err(NotACalendar(format!("it has more than {MAX_ENTRIES} entries")));
        }
        if self.open.len() == MAX_DEPTH {
            return Err(NotACalendar(format!("its parts lie more than {MAX_DEPTH} deep in each other")));
        }
        if name == "VCALENDAR" {
            (self.is_calendar, self.taken_back, self.zone) = (true, false, String::new());
        }
        // A calendar or an entry that was never ended ends where the next begins.
        if matches!(name, "VCALENDAR" | "VEVENT") {
            self.end(name);
        }
        self.open.push(name.to_owned());
        Ok(())
    }

    /// Ends the innermost part of the name, and those in it that were never ended.
    fn end(&mut self, name: &str) {
        let Some(at) = self.open.iter().rposition(|open| open == name) else { return };
        let ended = self.open.split_off(at);
        if ended.iter().any(|open| open == "VEVENT") {
            let text = format!("BEGIN:VEVENT\n{}END:VEVENT\n", std::mem::take(&mut self.block));
            self.blocks.push(Block { text, taken_back: self.taken_back, zone: self.zone.clone() });
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    const PLAIN: &str = "BEGIN:VCALENDAR\nBEGIN:VEVENT\nSUMMARY:One\nBEGIN:VALARM\nDURATION:PT15M\nEND:VALARM\n\
        DTSTART;VALUE=DATE:20261204\nEND:VEVENT\nEND:VCALENDAR\n";

    #[test]
    fn the_same_file_is_read_whatever_ends_its_lines_and_however_its_letters_are_written() {
        let read = blocks(PLAIN.as_bytes()).expect("a calendar");
        assert_eq!(read[0].text, "BEGIN:VEVENT\nSUMMARY:One\nDTSTART;VALUE=DATE:20261204\nEND:VEVENT\n");
        let utf_16 = |text: &str| text.encode_utf16().flat_map(u16::to_le_bytes).collect::<Vec<u8>>();
        for other in [
            PLAIN.replace('\n', "\r\n").into_bytes(),
            PLAIN.replace('\n', "\r").into_bytes(),
            format!("\u{feff}{PLAIN}").into_bytes(),
            PLAIN
                .replace("DTSTART;VALUE=DATE", "dtstart;value=date")
                .replace("BEGIN:VEVENT", "begin:vevent")
                .into_bytes(),
            PLAIN.replace("SUMMARY:One", "SUMM\r\n ARY:O\n\tne").into_bytes(),
            PLAIN.replace("END:VCALENDAR\n", "").into_bytes(),
            utf_16(PLAIN),
            utf_16(&format!("\u{feff}{PLAIN}")),
        ] {
            assert_eq!(blocks(&other).as_ref(), Ok(&read), "{}", String::from_utf8_lossy(&other));
        }
    }

    #[test]
    fn several_calendars_are_one_and_what_one_takes_back_the_others_do_not() {
        let two = format!("{}{PLAIN}", PLAIN.replace("BEGIN:VEVENT", "METHOD:cancel\nBEGIN:VEVENT"));
        let taken: Vec<bool> =
            blocks(two.as_bytes()).expect("calendars").iter().map(|block| block.taken_back).collect();
        assert_eq!(taken, [true, false]);
    }
}
