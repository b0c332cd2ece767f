//! A class's term as tables for the office.

use std::collections::BTreeMap;

use bright_row_core::ChildId;
use bright_row_core::craft::strand::Strand;
use bright_row_core::number::tenths;
use bright_row_core::round::event::RoundEventKind;
use bright_row_core::term::attendance::{Attendance, by_meeting};
use bright_row_core::term::looks::Waits;
use bright_row_core::term::past::Past;
use bright_row_documents::list::Column;
use bright_row_documents::xlsx::{Cell, Sheet};
use chrono::{DateTime, Utc};

use super::overview::Read;
use super::views::{ChildThen, MeetingThen};
use crate::use_cases::snapshot::Learner;

fn headings(names: &[&str]) -> Vec<String> {
    names.iter().map(|name| (*name).to_owned()).collect()
}

fn number(count: usize) -> Cell {
    Cell::Number(f64::from(u32::try_from(count).unwrap_or(u32::MAX)))
}

fn percent(share: f64) -> Cell {
    Cell::Number((share * 100.0).round())
}

/// The four strands as reports name them.
const STRANDS: [(Strand, &str); 4] =
    [(Strand::Hold, "Hold"), (Strand::Bow, "Bow grip"), (Strand::Frame, "Left-hand frame"), (Strand::Tape, "Tapes")];

impl Read<'_> {
    /// A row a child, in walking order.
    pub(super) fn office_sheet(&self) -> Sheet {
        let stages: BTreeMap<String, (Strand, String)> =
            self.stages().into_iter().map(|stage| (stage.id, (stage.strand, stage.name))).collect();
        let row = |(learner, child): (&Learner, ChildThen)| {
            let holding =
                self.past.held.iter().rev().find(|held| held.child == learner.child.id && held.until.is_none());
            let text = |text: Option<&String>| text.map_or(Cell::Empty, |text| Cell::Text(text.clone()));
            let mut row = vec![
                Cell::Text(learner.child.name.clone()),
                Cell::Text(learner.child.playing.now.name().to_owned()),
                text(holding.map(|held| &held.size)),
                text(holding.map(|held| &held.tag)),
                Cell::Day(learner.child.joined_on),
            ];
            for (strand, _) in STRANDS {
                let of_strand = child.reached.iter().rev().filter_map(|at| Some((at, stages.get(&at.stage)?)));
                let furthest = of_strand.clone().filter(|(_, (of, _))| *of == strand).max_by_key(|(at, _)| &at.stage);
                row.push(furthest.map_or(Cell::Empty, |(_, (_, name))| Cell::Text(name.clone())));
                row.push(furthest.and_then(|(at, _)| self.day(at.meeting)).map_or(Cell::Empty, Cell::Day));
            }
            let waits = Waits::for_visits(
                &self.pasts[self.pasts.iter().position(|past| past.child == learner.child.id).unwrap_or_default()],
                &self.span,
            );
            row.push(number(waits.looked));
            row.push(waits.mean.map_or(Cell::Empty, |mean| Cell::Number(tenths(mean))));
            row.push(Cell::Number(f64::from(waits.longest)));
            row
        };
        let mut names = headings(&["Name", "Instrument", "Size", "Tag", "In the class since"]);
        names.extend(STRANDS.iter().flat_map(|(_, name)| [(*name).to_owned(), format!("{name}, since")]));
        names.extend(headings(&["Visits", "Mean wait (meetings)", "Longest wait (meetings)"]));
        let rows = self.past.learners.iter().zip(self.children()).map(row).collect();
        Sheet { name: "Class".to_owned(), headings: names, rows }
    }

    /// A row a child, in walking order, with a column for each meeting so far.
    pub(super) fn attendance_sheet(&self, said: &[(ChildId, RoundEventKind, DateTime<Utc>)]) -> Sheet {
        let row = |(learner, past): (&Learner, &Past<'_>)| {
            let of_events = said.iter().filter(|(child, ..)| *child == past.child);
            let of_events = of_events.filter_map(|(_, kind, at)| Some((*at, Attendance::of_event(*kind)?)));
            let of_looks = past.seen.iter().filter_map(|look| Some((look.observed_at, Attendance::of_look(look.via)?)));
            let known = by_meeting(of_events.chain(of_looks), self.span.calendar);
            let many = |sign| number(known.values().filter(|known| **known == sign).count());
            let name = Cell::Text(learner.child.name.clone());
            let mut row = vec![name, many(Attendance::Here), many(Attendance::Away)];
            let meetings = (1..=self.span.now).map(|meeting| known.get(&meeting));
            row.extend(meetings.map(|known| known.map_or(Cell::Empty, |known| Cell::Text(known.word().to_owned()))));
            row
        };
        let mut names = headings(&["Name", "Here (meetings)", "Away (meetings)"]);
        let days = (1..=self.span.now).filter_map(|meeting| self.day(meeting));
        names.extend(days.map(|day| day.to_string()));
        let rows = self.past.learners.iter().zip(&self.pasts).map(row).collect();
        Sheet { name: "Attendance".to_owned(), headings: names, rows }
    }

    pub(super) fn stage_sheet(&self) -> Sheet {
        let mut rows = Vec::new();
        for stage in self.stages() {
            for found in &stage.reached {
                rows.push(vec![
                    Cell::Text(stage.name.clone()),
                    Cell::Text(found.section.map_or("class", |section| section.name()).to_owned()),
                    number(found.there),
                    number(found.of),
                    found.most.map_or(Cell::Empty, Cell::Day),
                ]);
            }
        }
        let names = headings(&["Stage", "Who", "Reached it", "Of", "Four of five by"]);
        Sheet { name: "Stages".to_owned(), headings: names, rows }
    }

    pub(super) fn meeting_sheet(&self) -> Sheet {
        let row = |then: MeetingThen| {
            let bright = then.strands.iter().sum::<f64>() / 4.0;
            let mut row = vec![Cell::Day(then.day), number(then.children), percent(bright)];
            row.extend(then.strands.iter().map(|learned| percent(*learned)));
            row.extend([number(then.visited), Cell::Number(then.minutes.round())]);
            row
        };
        let mut names = headings(&["Meeting", "Children", "Bright (%)"]);
        names.extend(STRANDS.iter().map(|(_, name)| format!("{name} (%)")));
        names.extend(headings(&["Children visited", "Minutes of looking"]));
        Sheet { name: "Meetings".to_owned(), headings: names, rows: self.meetings().into_iter().map(row).collect() }
    }
}

/// The columns of the class's table that a page has room for.
pub(super) fn on_paper(sheet: &Sheet) -> (Vec<Column>, Vec<Vec<String>>) {
    const SHOWN: [(&str, f64); 7] = [
        ("Name", 2.6),
        ("Instrument", 1.9),
        ("Hold", 1.7),
        ("Bow grip", 1.9),
        ("Left-hand frame", 2.7),
        ("Tapes", 1.8),
        ("Visits", 1.2),
    ];
    let places: Vec<usize> =
        SHOWN.iter().filter_map(|(name, _)| sheet.headings.iter().position(|heading| heading == name)).collect();
    let columns = SHOWN.iter().map(|(name, share)| Column {
        heading: (*name).to_owned(),
        share: *share,
        right: *name == "Visits",
    });
    let short = |words: String| words.split_once(", ").map_or(words.clone(), |(_, stage)| stage.to_owned());
    let cell = |row: &Vec<Cell>, place: usize| {
        let words = row.get(place).map(Cell::words).unwrap_or_default();
        if STRANDS.iter().any(|(_, name)| sheet.headings[place] == *name) { short(words) } else { words }
    };
    let rows = sheet.rows.iter().map(|row| places.iter().map(|place| cell(row, *place)).collect());
    (columns.collect(), rows.collect())
}
