//! CSV that opens in any spreadsheet and runs nothing there.

/// Rows as CSV: UTF-8, commas, CRLF, quoted where it has to be.
///
/// A cell that a spreadsheet would run as a formula gets an apostrophe before it; [`crate::table`] takes it off again,
/// so that what was written is read back.
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
    if looks_run(cell) { format!("'{cell}") } else { cell.to_owned() }
}

/// The cell as it was before [`write`] guarded it.
#[must_use]
pub fn unguarded(cell: &str) -> &str {
    match cell.strip_prefix('\'') {
        Some(rest) if looks_run(rest) => rest,
        _ => cell,
    }
}

/// Whether a spreadsheet might run it; an apostrophe before such text counts as text of the same kind.
fn looks_run(cell: &str) -> bool {
    let inner = cell.trim_start_matches('\'').trim_start_matches(' ');
    inner.starts_with(RUNS) && inner.parse::<f64>().is_err()
}
