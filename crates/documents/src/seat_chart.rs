//! The seat chart, from the podium's side or from the class's.

use crate::measure::fitting;
use crate::pdf::{Drawing, Paper};

/// Whose eyes the chart is for.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum From {
    /// The podium is at the lower edge, row 1 just above it.
    Podium,
    /// The podium is at the upper edge: the same room turned round.
    Class,
}

/// A taken seat.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Taken {
    /// 1 nearest the podium.
    pub row: u8,
    /// 1 at the podium's left.
    pub number: u8,
    /// Whose.
    pub name: String,
    /// What it plays.
    pub instrument: String,
}

/// The chart on one sheet, lying.
#[must_use]
pub fn chart(title: &str, seats: &[Taken], from: From, paper: Paper) -> Drawing {
    let (height, width) = paper.size_mm();
    let mut page = Drawing::new((width, height));
    let whose = match from {
        From::Podium => "as the podium sees it",
        From::Class => "as the class sees it",
    };
    page.text((14.0, 18.0), 7.0, "start", true, title);
    page.text((width - 14.0, 18.0), 4.5, "end", false, whose);
    let rows = seats.iter().map(|seat| seat.row).max().unwrap_or(1);
    let chairs = seats.iter().map(|seat| seat.number).max().unwrap_or(1);
    let (top, bottom) = (26.0, height - 22.0);
    let row_height = ((bottom - top) / f64::from(rows)).min(30.0);
    let chair = ((width - 28.0) / f64::from(chairs)).min(42.0);
    for seat in seats {
        let in_row: Vec<u8> = seats.iter().filter(|other| other.row == seat.row).map(|other| other.number).collect();
        let widest = in_row.iter().max().copied().unwrap_or(1);
        // Every row is centred; the podium's left is the class's right.
        let place = f64::from(seat.number) - 1.0 - (f64::from(widest) - 1.0) / 2.0;
        let (place, line) = match from {
            From::Podium => (place, f64::from(rows - seat.row)),
            From::Class => (-place, f64::from(seat.row) - 1.0),
        };
        let (x, y) = (width / 2.0 + (place - 0.5) * chair, top + line * row_height);
        page.frame((x + 1.0, y + 1.0), (chair - 2.0, row_height - 3.0), 2.0);
        let (middle, size) = (x + chair / 2.0, (chair / 8.0).clamp(2.4, 4.6));
        page.text((middle, y + row_height * 0.45), size, "middle", true, &fitting(&seat.name, chair - 4.0, size));
        page.text((middle, y + row_height * 0.45 + size * 1.3), size * 0.8, "middle", false, &seat.instrument);
    }
    let podium = match from {
        From::Podium => height - 12.0,
        From::Class => 24.0,
    };
    if from == From::Podium {
        page.line((width / 2.0 - 22.0, podium - 5.0), (width / 2.0 + 22.0, podium - 5.0), 0.6);
    }
    page.text((width / 2.0, podium), 4.5, "middle", false, "podium");
    page
}
