//! CSV that opens in any spreadsheet and runs nothing there.

/// Rows as CSV: UTF-8, commas, CRLF, quoted where it has to be.
///
/// A cell that a spreadsheet would run as a formula gets an apostrophe before it, and so does what follows a semicolon in a
/// cell: where semicolons divide cells, it would be a cell of its own. [`crate::table`] takes them off again, so that what
/// was written is read back.
#[must_use]
pub fn write(rows: &[Vec<String>]) -> Vec<u8> {
    let mut writer = csv::WriterBuilder::new().terminator(csv::Terminator::CRLF).flexible(true).from_writer(Vec::new());
    for row in rows {
        let cells = row.iter().map(|cell| guarded(cell));
        writer.write_record(cells).expect("a vector takes everything");
    }
    writer.into_inner().expect("a vector takes everything")
}

/// What begins with one of these may be run by a spreadsheet.
const RUNS: [char; 6] = ['=', '+', '-', '@', '\t', '\r'];

fn guarded(cell: &str) -> String {
    each_part(cell, |part| if looks_run(part) { format!("'{part}") } else { part.to_owned() })
}

/// The cell as it was before [`write`] guarded it.
#[must_use]
pub fn unguarded(cell: &str) -> String {
    if !cell.contains('\'') {
        return cell.to_owned();
    }
    each_part(cell, |part| part.strip_prefix('\'').filter(|rest| looks_run(rest)).unwrap_or(part).to_owned())
}

/// What lies between semicolons, each by itself.
fn each_part(cell: &str, of: impl Fn(&str) -> String) -> String {
    cell.split(';').map(of).collect::<Vec<_>>().join(";")
}

/// Whether a spreadsheet might run it; an apostrophe before such text counts as text of the same kind.
fn looks_run(cell: &str) -> bool {
    let inner = cell.trim_start_matches('\'').trim_start_matches(' ');
    inner.starts_with(RUNS) && inner.parse::<f64>().is_err()
}
