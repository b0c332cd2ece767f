//! `bright-row rehearse`: a class of invented children played meeting by meeting, once by each policy.

use bright_row_core::craft::approach::Choices;
use bright_row_core::craft::edits::Edits;
use bright_row_core::craft::loader::Content;
use bright_row_core::progress::calendar::MeetingCalendar;
use bright_row_core::progress::next::Order;
use bright_row_core::progress::rhythm::Rhythm;
use bright_row_core::round::calibration::Calibration;
use bright_row_core::round::outcome::Outcome;
use bright_row_core::round::planner::RoundTerms;
use bright_row_core::round::play::Chance;
use bright_row_core::round::rates::Rates;
use bright_row_core::round::rehearsal::{Play, Policy};
use bright_row_store::classes::RoundSettings;
use chrono::{Days, NaiveDate, Weekday};
use clap::Args;
use rand::{RngExt, SeedableRng};
use rand_chacha::ChaCha8Rng;
use serde::Serialize;

/// What is played.
#[derive(Debug, Clone, Copy, Args)]
pub struct RehearseArgs {
    /// Children in the class.
    #[arg(long, default_value_t = 36, value_parser = clap::value_parser!(u16).range(1..=300))]
    children: u16,
    /// Minutes for looking at each meeting.
    #[arg(long, default_value_t = 12, value_parser = clap::value_parser!(u32).range(0..=240))]
    minutes: u32,
    /// Meetings played.
    #[arg(long, default_value_t = 59, value_parser = clap::value_parser!(u32).range(1..=200))]
    meetings: u32,
    /// The chance at one meeting that class teaching raises something in work.
    #[arg(long, default_value_t = 0.25, value_parser = share)]
    base: f64,
    /// The chance that a look raises something in work.
    #[arg(long, default_value_t = 0.35, value_parser = share)]
    coach: f64,
    /// The chance at one meeting that something that stood slips.
    #[arg(long, default_value_t = 0.02, value_parser = share)]
    slip: f64,
    /// What the random numbers begin with; the same seed plays the same class.
    #[arg(long, default_value_t = 1)]
    seed: u64,
    /// So many classes, each with the next seed; what is printed is their mean.
    #[arg(long, default_value_t = 4, value_parser = clap::value_parser!(u16).range(1..=1000))]
    runs: u16,
    /// Instead of judging policies: forecasts after so many meetings what comes, plays on, and tells how often it lay in the
    /// band.
    #[arg(long, value_parser = clap::value_parser!(u32).range(1..=199))]
    forecast_after: Option<u32>,
    /// Runs of each forecast.
    #[arg(long, default_value_t = 80, value_parser = clap::value_parser!(u32).range(1..=1000))]
    forecast_runs: u32,
    /// Prints JSON, one line a policy.
    #[arg(long)]
    json: bool,
}

fn share(text: &str) -> Result<f64, String> {
    let share: f64 = text.parse().map_err(|_| "a number from 0 to 1".to_owned())?;
    if (0.0..=1.0).contains(&share) { Ok(share) } else { Err("from 0 to 1".to_owned()) }
}

/// One policy with what it came to, the mean of all runs.
#[derive(Serialize)]
#[serde(rename_all = "camelCase")]
struct Line {
    policy: Policy,
    #[serde(flatten)]
    outcome: Outcome,
}

/// How the bands of forecasts held: shares, and their width in meetings.
#[derive(Serialize)]
struct BandsHeld {
    bands: u32,
    inside: f64,
    before: f64,
    after: f64,
    width: f64,
}

/// Plays every policy and prints what each came to.
pub fn rehearse(content: &Content, args: RehearseArgs) {
    if let Some(after) = args.forecast_after {
        calibrate(content, args, after);
        return;
    }
    let outcomes = [Policy::Next, Policy::Rows, Policy::Limit].map(|policy| (policy, play(content, args, policy)));
    if !args.json {
        println!(
            "{:8}{:>8}{:>8}{:>8}{:>8}{:>8}{:>8}{:>8}{:>9}",
            "", "end", "mean", "delay", "delay95", "wait", "due", "late", "seconds"
        );
    }
    for (policy, outcome) in outcomes {
        if args.json {
            println!("{}", serde_json::to_string(&Line { policy, outcome }).expect("numbers and a word"));
            continue;
        }
        let Outcome { end, mean, delay_mean, delay95, longest_wait, due_share, late, seconds } = outcome;
        let name = format!("{policy:?}").to_lowercase();
        println!(
            "{name:8}{end:8.3}{mean:8.3}{delay_mean:8.2}{delay95:8.1}{longest_wait:8.1}{due_share:8.2}{late:8.1}{seconds:9.0}"
        );
    }
}

fn play(content: &Content, args: RehearseArgs, policy: Policy) -> Outcome {
    let children = usize::from(args.children);
    Outcome::mean_of(&each(content, args, |play, numbers| play.rehearse(policy, children, numbers)))
}

/// Prints how the bands of forecasts held.
fn calibrate(content: &Content, args: RehearseArgs, after: u32) {
    let children = usize::from(args.children);
    let classes = each(content, args, |play, numbers| play.calibrate(children, after, args.forecast_runs, numbers));
    let all = classes.into_iter().fold(Calibration::default(), Calibration::and);
    let share = |count: u32| f64::from(count) / f64::from(all.all().max(1));
    let line = BandsHeld {
        bands: all.all(),
        inside: share(all.held),
        before: share(all.before),
        after: share(all.after),
        width: share(all.meetings),
    };
    if args.json {
        println!("{}", serde_json::to_string(&line).expect("numbers"));
    } else {
        let BandsHeld { bands, inside, before, after, width } = line;
        println!("{bands} bands of {width:.1} meetings: {inside:.3} held, {before:.3} came before, {after:.3} after");
    }
}

/// What is played, once for each run with numbers of its own.
fn each<T>(content: &Content, args: RehearseArgs, one: impl Fn(&Play<'_>, &mut Chance<'_>) -> T) -> Vec<T> {
    let bare = Choices::from([("markers".to_owned(), "none".to_owned())]);
    let checklist = content.checklist(&bare, &Edits::default());
    let calendar = calendar(args.meetings);
    let rhythm = Rhythm::default();
    let round = RoundSettings::default();
    let RehearseArgs { base, coach, slip, .. } = args;
    let play = Play {
        checklist: &checklist,
        causes: &content.causes,
        calendar: &calendar,
        rhythm: &rhythm,
        order: Order::SideBySide,
        rates: Rates { base, coach, slip }.into(),
        terms: RoundTerms {
            seconds_available: 60 * args.minutes,
            visit_seconds: round.visit_seconds,
            max_checks_per_child: usize::try_from(round.max_checks).unwrap_or(usize::MAX),
            must_see_after_meetings: round.must_see_after,
        },
        meetings: args.meetings,
    };
    let run = |number: u16| {
        let mut numbers = ChaCha8Rng::seed_from_u64(args.seed.wrapping_add(u64::from(number)));
        one(&play, &mut || numbers.random::<f64>())
    };
    (0..args.runs).map(run).collect()
}

/// So many meetings, one a day of an invented time: which days they are plays no part.
fn calendar(meetings: u32) -> MeetingCalendar {
    const WEEK: [Weekday; 7] =
        [Weekday::Mon, Weekday::Tue, Weekday::Wed, Weekday::Thu, Weekday::Fri, Weekday::Sat, Weekday::Sun];
    let first = NaiveDate::default();
    let last = first + Days::new(u64::from(meetings.max(1)) - 1);
    MeetingCalendar::new(chrono_tz::UTC, first, last, &WEEK, &[].into()).expect("every day is a meeting")
}

#[cfg(test)]
mod tests {
    use clap::Parser;

    use super::*;

    #[derive(Parser)]
    struct Cli {
        #[command(flatten)]
        args: RehearseArgs,
    }

    fn parsed(words: &str) -> Result<RehearseArgs, clap::Error> {
        Cli::try_parse_from(format!("rehearse {words}").split_whitespace()).map(|cli| cli.args)
    }

    #[test]
    fn the_same_words_play_the_same_classes_and_another_seed_others() {
        let content = crate::content::embedded();
        let args = |seed: &str| parsed(&format!("--children 6 --meetings 12 --runs 2 --seed {seed}")).expect("words");
        let played = |seed| play(&content, args(seed), Policy::Next);
        assert_eq!(played("3"), played("3"));
        assert_ne!(played("3"), played("9"));
    }

    #[test]
    fn every_number_has_its_bounds() {
        for words in [
            "--children 0",
            "--children 301",
            "--minutes 241",
            "--meetings 0",
            "--meetings 201",
            "--runs 0",
            "--runs 1001",
            "--base 1.1",
            "--coach -1",
            "--slip NaN",
            "--base inf",
            "--slip much",
            "--seed -1",
        ] {
            assert!(parsed(words).is_err(), "{words}");
        }
        assert!(parsed("--children 300 --minutes 0 --meetings 200 --runs 1000 --base 0 --slip 1 --json").is_ok());
    }
}
