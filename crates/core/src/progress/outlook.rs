//! By what the progress of a class's children is read at one meeting.

use crate::craft::checklist::Checklist;
use crate::progress::calendar::MeetingCalendar;
use crate::progress::rhythm::Rhythm;

/// What a ladder is computed from.
#[derive(Clone, Copy, Debug)]
pub struct Outlook<'a> {
    /// The class's checklist.
    pub checklist: &'a Checklist,
    /// The class's calendar.
    pub calendar: &'a MeetingCalendar,
    /// The class's intervals.
    pub rhythm: &'a Rhythm,
    /// The number of the present meeting.
    pub now: u32,
}
