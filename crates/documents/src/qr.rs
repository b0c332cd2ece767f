//! QR codes.

use qrcode::{Color, EcLevel, QrCode};

/// A QR code as path data, `side` millimetres wide with its quiet zone; `None` for no text, and for one that no code holds.
pub(crate) fn path(text: &str, (x, y): (f64, f64), side: f64) -> Option<String> {
    if text.is_empty() {
        return None;
    }
    let code = QrCode::with_error_correction_level(text, EcLevel::M).ok()?;
    let quiet = 2.0;
    let module = side / (count(code.width()) + 2.0 * quiet);
    let mut path = String::new();
    for (index, color) in code.to_colors().into_iter().enumerate() {
        if color == Color::Dark {
            let (column, row) = (count(index % code.width()), count(index / code.width()));
            let (left, top) = (x + (quiet + column) * module, y + (quiet + row) * module);
            path += &format!("M{left:.3} {top:.3}h{module:.3}v{module:.3}h-{module:.3}z");
        }
    }
    Some(path)
}

fn count(number: usize) -> f64 {
    f64::from(u32::try_from(number).unwrap_or(u32::MAX))
}
