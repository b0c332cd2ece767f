//! `bright-row listen`.

use std::io::{self, BufReader, Read, Write as _};
use std::path::{Path, PathBuf};

use bright_row_core::craft::instrument::Instrument;
use bright_row_core::listening::{
    Heard, Kind, Listener, Range, Sound, Sounds, Verdict, hertz, nearest_note, sounding_string, spelled,
};
use hound::{SampleFormat, WavReader, WavSpec};
use serde::Serialize;

use crate::content;
use crate::failure::Failure;

/// So many samples are read before they are listened to.
const CHUNK: usize = 4_096;
/// More channels than this no microphone has.
const MAX_CHANNELS: u16 = 16;

#[derive(Debug, clap::Args)]
pub struct ListenArgs {
    /// A WAV file, 8 to 96 kHz.
    file: PathBuf,
    /// Whose strings are listened for, `cello`; all four where it is not said.
    #[arg(long, value_parser = instrument)]
    instrument: Option<Instrument>,
    /// What A4 is tuned to, in hertz.
    #[arg(long, default_value_t = 440.0, value_parser = a4)]
    a4: f64,
    /// One JSON object a line instead of words.
    #[arg(long)]
    json: bool,
}

fn instrument(text: &str) -> Result<Instrument, String> {
    let names = Instrument::ALL.map(Instrument::name).join(", ");
    Instrument::parse(text).ok_or_else(|| format!("there are {names}"))
}

fn a4(text: &str) -> Result<f64, String> {
    let hz = text.parse().ok().filter(|hz| (400.0..=480.0).contains(hz));
    hz.ok_or_else(|| "A4 is 400 to 480 Hz".to_owned())
}

/// One thing that was heard.
#[derive(Debug, Serialize)]
#[serde(rename_all = "camelCase")]
struct Line {
    /// Seconds from the beginning of the file.
    at: f64,
    kind: &'static str,
    hz: Option<f64>,
    /// Above `note`.
    cents: Option<f64>,
    note: Option<String>,
    /// The open string that it is played on in first position.
    string: Option<String>,
    ring_seconds: Option<f64>,
    verdict: Option<&'static str>,
    confidence: f64,
}

/// Listens to a file as the page listens to a microphone, and prints a line for each thing that is heard; silence is nothing.
///
/// # Errors
/// [`Failure::Unreadable`], [`Failure::Sound`].
pub fn run(args: &ListenArgs) -> Result<(), Failure> {
    let cannot = |cause| Failure::Unreadable { path: args.file.display().to_string(), cause };
    let file = std::fs::File::open(&args.file).map_err(cannot)?;
    let reader = WavReader::new(BufReader::new(file)).map_err(|cause| broken(&args.file, &cause))?;
    let mut out = io::stdout().lock();
    let strings = open_strings(args);
    let heard = sounds(reader, args, |sound| {
        let line = line(&sound, args.a4, &strings);
        if args.json {
            serde_json::to_writer(&mut out, &line).map_err(io::Error::from)?;
        } else {
            say(&mut out, &line)?;
        }
        writeln!(out)
    });
    heard.map_err(|failure| match failure {
        Failed::Wave(cause) => broken(&args.file, &cause),
        Failed::Spec(why) => Failure::Sound { path: args.file.display().to_string(), why },
        Failed::Out(cause) => Failure::Other(format!("Cannot write what was heard: {cause}.")),
    })
}

enum Failed {
    Wave(hound::Error),
    Spec(String),
    Out(io::Error),
}

fn broken(file: &Path, cause: &hound::Error) -> Failure {
    let why = match cause {
        hound::Error::IoError(cause) => format!("it ends too early or cannot be read ({cause})"),
        hound::Error::FormatError(why) => format!("it is no WAV file ({why})"),
        _ => "it is of a kind that is not read: save it as 16-bit PCM".to_owned(),
    };
    Failure::Sound { path: file.display().to_string(), why }
}

/// Every sound of a file, handed on one after the other.
fn sounds<R: Read>(
    mut reader: WavReader<R>,
    args: &ListenArgs,
    mut tell: impl FnMut(Sound) -> io::Result<()>,
) -> Result<(), Failed> {
    let spec = reader.spec();
    if spec.channels == 0 || spec.channels > MAX_CHANNELS {
        return Err(Failed::Spec(format!("it has {} channels: mix it down to one", spec.channels)));
    }
    let range = args.instrument.map_or_else(Range::all, Range::of);
    let listener = Listener::new(f64::from(spec.sample_rate), range).map_err(|odd| Failed::Spec(odd.to_string()))?;
    let gathered = Sounds::new(args.instrument);
    let open: Vec<f64> = open_strings(args).into_iter().map(|(hz, _)| hz).collect();
    let (mut listener, mut gathered) = match <[f64; 4]>::try_from(open) {
        Ok(open) => (listener.with_open(open), gathered.with_open(open)),
        // Without an instrument nobody knows its strings.
        Err(_) => (listener, gathered),
    };
    let mut hear = |chunk: &[f32]| {
        let over: Vec<Sound> = listener.push(chunk).filter_map(|heard: Heard| gathered.hear(heard)).collect();
        over.into_iter().try_for_each(&mut tell).map_err(Failed::Out)
    };
    let mut chunk = Vec::with_capacity(CHUNK);
    let mut read = Ok(());
    for sample in mixed(&mut reader, spec) {
        match sample {
            Ok(sample) => chunk.push(sample),
            Err(cause) => {
                // What came before counts.
                read = Err(Failed::Wave(cause));
                break;
            }
        }
        if chunk.len() == CHUNK {
            hear(&chunk)?;
            chunk.clear();
        }
    }
    hear(&chunk)?;
    gathered.end().map_or(Ok(()), tell).map_err(Failed::Out)?;
    read
}

/// All channels as one, from -1 to 1.
fn mixed<R: Read>(reader: &mut WavReader<R>, spec: WavSpec) -> impl Iterator<Item = Result<f32, hound::Error>> + '_ {
    let most = f64::from(2_u32.pow(u32::from(spec.bits_per_sample.clamp(1, 32)) - 1));
    let mut samples: Box<dyn Iterator<Item = Result<f64, hound::Error>>> = match spec.sample_format {
        SampleFormat::Float => Box::new(reader.samples::<f32>().map(|sample| sample.map(f64::from))),
        SampleFormat::Int => {
            Box::new(reader.samples::<i32>().map(move |sample| sample.map(|sample| f64::from(sample) / most)))
        }
    };
    let channels = spec.channels;
    std::iter::from_fn(move || {
        let mut sum = 0.0;
        for _ in 0..channels {
            match samples.next()? {
                Ok(sample) => sum += sample,
                Err(cause) => return Some(Err(cause)),
            }
        }
        #[expect(clippy::as_conversions, clippy::cast_possible_truncation, reason = "a level from -1 to 1")]
        let mean = (sum / f64::from(channels)) as f32;
        Some(Ok(mean))
    })
}

/// The open strings that are listened for, with their names.
fn open_strings(args: &ListenArgs) -> Vec<(f64, String)> {
    let content = content::embedded();
    let facts = args.instrument.and_then(|instrument| content.instruments.get(&instrument));
    let strings = facts.map(|facts| facts.strings.as_slice()).unwrap_or_default();
    strings.iter().map(|open| (hertz(open.midi, args.a4), open.note.clone())).collect()
}

fn line(sound: &Sound, a4: f64, strings: &[(f64, String)]) -> Line {
    let note = sound.hz.and_then(|hz| nearest_note(hz, a4));
    let open: Vec<f64> = strings.iter().map(|(hz, _)| *hz).collect();
    let string = sound.hz.and_then(|hz| sounding_string(hz, &open));
    // Adding 0 takes the sign off a 0.
    let rounded = |value: f64, places: f64| (value * places).round() / places + 0.0;
    Line {
        at: rounded(sound.at, 100.0),
        kind: match sound.kind {
            Kind::Pluck => "pluck",
            Kind::Bow => "bow",
            Kind::Noise => "noise",
        },
        hz: sound.hz.map(|hz| rounded(hz, 1_000.0)),
        cents: note.map(|(_, cents)| rounded(cents, 10.0)),
        note: note.map(|(midi, _)| spelled(midi)),
        string: string.and_then(|place| strings.get(place)).map(|(_, name)| name.clone()),
        ring_seconds: sound.ring_seconds.map(|seconds| rounded(seconds, 100.0)),
        verdict: sound.verdict.map(|verdict| match verdict {
            Verdict::Rings => "rings",
            Verdict::Short => "short",
            Verdict::Thud => "thud",
            Verdict::Buzz => "buzz",
            Verdict::Full => "full",
            Verdict::Scratch => "scratch",
            Verdict::Whisper => "whisper",
            Verdict::Wavers => "wavers",
            Verdict::Glass => "glass",
            Verdict::Jump => "jump",
            Verdict::TwoStrings => "two-strings",
        }),
        confidence: rounded(sound.confidence, 100.0),
    }
}

/// `1.24 s: pluck, A4 +3.2 cents (440.813 Hz) on A4, rings 0.64 s.`
fn say(out: &mut impl io::Write, line: &Line) -> io::Result<()> {
    write!(out, "{:.2} s: {}", line.at, line.kind)?;
    if let (Some(note), Some(cents), Some(hz)) = (&line.note, line.cents, line.hz) {
        write!(out, ", {note} {cents:+.1} cents ({hz:.3} Hz)")?;
    }
    if let Some(string) = &line.string {
        write!(out, " on {string}")?;
    }
    if let Some(verdict) = line.verdict {
        write!(out, ", {verdict}")?;
    }
    if let Some(seconds) = line.ring_seconds {
        write!(out, ", 20 dB quieter after {seconds:.2} s")?;
    }
    write!(out, ".")
}
