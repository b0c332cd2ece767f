//! What leaves on paper or as a file, made from core values, and the tables that come in as a file.
//!
//! This crate **is** bytes in, plain rows out, and core values in, bytes out: [`csv_out`], [`table`] (CSV of any
//! reasonable shape), [`bundle`] (a zip of tables), [`reading`] (how far a large file is read), [`ical`] (calendars both ways), [`vcard`] (contacts), [`pdf`] (pages drawn as SVG), [`measure`] (texts by their width), [`labels`],
//! [`seat_chart`], [`list`] (the order list), [`record`] (what is kept of a child), [`figures`] (drawn hands for the wall and the stand), [`family_card`] and [`family_sheet`] (what goes home), [`template`] (where markers go, at true scale), [`note_chart`] (who plays what where) and [`tune`]
//! (tunes for notation programs and players, and read from them). It **is not** a place for the database, the web or rules.

pub mod bundle;
pub mod csv_out;
pub mod family_card;
pub mod family_sheet;
pub mod figures;
pub mod fonts;
pub mod ical;
pub mod labels;
pub mod letters;
pub mod list;
pub mod measure;
pub mod note_chart;
mod packing;
pub mod pdf;
mod qr;
pub mod reading;
pub mod record;
pub mod seat_chart;
pub mod spreadsheet;
pub mod standing;
pub mod table;
pub mod template;
pub mod term_page;
pub mod tune;
pub mod vcard;
pub mod xlsx;
