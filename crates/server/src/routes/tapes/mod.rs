//! Tapes: the bench, one instrument, its log, templates, and who plays which note where.

pub mod bench;
pub mod instrument;
pub mod log_entries;
pub mod log_views;
pub mod note_files;
pub mod note_map;
pub mod note_views;
pub mod settings;
pub mod templates;
pub mod tune_file;
pub mod tuning;
pub mod views;
