//! For `./bench listening`: `make FOLDER` writes sounds whose pitch is known, `hear FOLDER` says what is heard in every WAV file there.
#![expect(clippy::as_conversions, clippy::cast_precision_loss, reason = "seeds and counts, all small")]

use std::error::Error;
use std::path::Path;
use std::time::Instant;

use bright_row_core::craft::instrument::Instrument;
use bright_row_core::listening::string::{Act, StringSound, Touch};
use bright_row_core::listening::{Heard, Listener, Range};
use hound::{SampleFormat, WavReader, WavSpec, WavWriter};
use serde_json::json;

const RATE: u32 = 48_000;
/// Seeds that no rule was set by.
const SEEDS: std::ops::Range<u64> = 910_000..910_012;

const fn compass(instrument: Instrument) -> (f64, f64) {
    match instrument {
        Instrument::Violin => (55.0, 83.0),
        Instrument::Viola => (48.0, 76.0),
        Instrument::Cello => (36.0, 62.0),
        Instrument::Bass => (28.0, 48.0),
    }
}

fn main() -> Result<(), Box<dyn Error>> {
    let arguments: Vec<String> = std::env::args().skip(1).collect();
    match arguments.iter().map(String::as_str).collect::<Vec<_>>()[..] {
        ["make", folder] => make(Path::new(folder)),
        ["hear", folder] => hear(Path::new(folder)),
        _ => Err("bench_listening make|hear FOLDER".into()),
    }
}

fn make(folder: &Path) -> Result<(), Box<dyn Error>> {
    for instrument in Instrument::ALL {
        let (low, high) = compass(instrument);
        for seed in SEEDS {
            let hz = 440.0 * ((low + (high - low) * (seed as f64 * 0.618).fract() - 69.0) / 12.0).exp2();
            let touch = if seed % 3 == 0 { Touch::Open } else { Touch::Stopped };
            for (act, how) in [(Act::PLUCK, "pluck"), (Act::BOW, "bow")] {
                for (class_db, around) in [(None, "clean"), (Some(10.0), "class")] {
                    let sound = StringSound { class_db, ..StringSound::of(instrument, hz, touch, act, seed) };
                    // instrument_set_how_hertz_seed.wav
                    let name = format!("{}_{around}_{how}_{hz:.4}_{seed}.wav", instrument.name());
                    write(&folder.join(name), &sound.render(f64::from(RATE), 1.2))?;
                }
            }
        }
        // Nobody plays: a class so loud that the string is not heard.
        let class = StringSound {
            class_db: Some(-60.0),
            ..StringSound::of(instrument, 440.0, Touch::Open, Act::PLUCK, 910_100)
        };
        write(&folder.join(format!("{}_noise_none_0_0.wav", instrument.name())), &class.render(f64::from(RATE), 10.0))?;
    }
    Ok(())
}

fn write(path: &Path, samples: &[f32]) -> Result<(), Box<dyn Error>> {
    let spec = WavSpec { channels: 1, sample_rate: RATE, bits_per_sample: 32, sample_format: SampleFormat::Float };
    let mut writer = WavWriter::create(path, spec)?;
    for sample in samples {
        writer.write_sample(*sample)?;
    }
    Ok(writer.finalize()?)
}

/// A line for each file: its name, how long listening took, and every moment with its pitch or null.
fn hear(folder: &Path) -> Result<(), Box<dyn Error>> {
    let mut names: Vec<String> = std::fs::read_dir(folder)?
        .filter_map(|entry| entry.ok()?.file_name().into_string().ok())
        .filter(|name| Path::new(name).extension().is_some_and(|extension| extension == "wav"))
        .collect();
    names.sort();
    for name in names {
        let instrument = name.split('_').next().and_then(Instrument::parse).ok_or("whose string it is stands first")?;
        let mut reader = WavReader::open(folder.join(&name))?;
        let rate = f64::from(reader.spec().sample_rate);
        let samples: Vec<f32> = reader.samples::<f32>().collect::<Result<_, _>>()?;
        let begun = Instant::now();
        let heard: Vec<Heard> = Listener::new(rate, Range::of(instrument))?.push(&samples).collect();
        let taken = begun.elapsed().as_secs_f64();
        let moments: Vec<_> = heard.iter().map(|heard| (heard.at, heard.pitch.map(|pitch| pitch.hz))).collect();
        println!("{}", json!({ "file": name, "taken": taken, "moments": moments }));
    }
    Ok(())
}
