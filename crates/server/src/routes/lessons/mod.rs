//! Lessons: the class as a whole, and the next lesson.

pub mod lesson;
pub mod overview;
