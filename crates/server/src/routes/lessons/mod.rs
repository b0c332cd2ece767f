//! Lessons: the class as a whole, and the next lesson.

pub mod lead;
pub mod lesson;
pub mod overview;
