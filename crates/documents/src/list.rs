//! A printed list: a title, a line under it, columns, as many pages as it takes.

use crate::measure::fitting;
use crate::pdf::{Drawing, Paper};

/// A column.
#[derive(Clone, Debug, PartialEq)]
pub struct Column {
    /// Its heading.
    pub heading: String,
    /// Its share of the width.
    pub share: f64,
    /// Numbers stand at the right.
    pub right: bool,
}

const MARGIN: f64 = 16.0;
const LINE: f64 = 7.0;
const SIZE: f64 = 4.0;

/// The list on upright pages.
#[must_use]
pub fn pages(title: &str, under: &str, columns: &[Column], rows: &[Vec<String>], paper: Paper) -> Vec<Drawing> {
    let (width, height) = paper.size_mm();
    let inner = width - 2.0 * MARGIN;
    let shares: f64 = columns.iter().map(|column| column.share).sum();
    let first = 44.0;
    let a_page = (1..=200).take_while(|lines| first + f64::from(*lines) * LINE < height - MARGIN).count().max(1);
    let sheets: Vec<&[Vec<String>]> = if rows.is_empty() { vec![&[]] } else { rows.chunks(a_page).collect() };
    let total = sheets.len();
    let draw = |(number, rows): (usize, &&[Vec<String>])| {
        let mut page = Drawing::new((width, height));
        page.text((MARGIN, 22.0), 7.0, "start", true, &fitting(title, inner, 7.0));
        page.text((MARGIN, 29.0), SIZE, "start", false, &fitting(under, inner, SIZE));
        if total > 1 {
            let at = (width - MARGIN, height - 8.0);
            page.text(at, 3.4, "end", false, &format!("page {} of {total}", number + 1));
        }
        let headings: Vec<String> = columns.iter().map(|column| column.heading.clone()).collect();
        line(&mut page, columns, shares, inner, first - LINE, &headings, true);
        page.line((MARGIN, first - LINE + 2.0), (width - MARGIN, first - LINE + 2.0), 0.4);
        let mut y = first;
        for row in *rows {
            line(&mut page, columns, shares, inner, y, row, false);
            page.line((MARGIN, y + 2.0), (width - MARGIN, y + 2.0), 0.1);
            y += LINE;
        }
        page
    };
    sheets.iter().enumerate().map(draw).collect()
}

fn line(page: &mut Drawing, columns: &[Column], shares: f64, inner: f64, y: f64, cells: &[String], bold: bool) {
    let mut x = MARGIN;
    for (column, cell) in columns.iter().zip(cells) {
        let width = inner * column.share / shares;
        let text = fitting(cell, width - 2.0, SIZE);
        if column.right {
            page.text((x + width - 1.0, y), SIZE, "end", bold, &text);
        } else {
            page.text((x, y), SIZE, "start", bold, &text);
        }
        x += width;
    }
}
