//! `bright-row listen`: what it prints for a file, and for what is no file of sound.

use std::path::{Path, PathBuf};
use std::process::{Command, Output};

use bright_row_core::craft::instrument::Instrument;
use bright_row_core::listening::string::{Act, StringSound, Touch};
use hound::{SampleFormat, WavSpec, WavWriter};
use proptest::prelude::*;

fn listen(file: &Path, more: &[&str]) -> Output {
    let mut command = Command::new(env!("CARGO_BIN_EXE_bright-row"));
    command.arg("listen").arg(file).args(more).output().expect("the binary was built")
}

fn place(name: &str) -> PathBuf {
    Path::new(env!("CARGO_TARGET_TMPDIR")).join(format!("listen-{name}-{}.wav", std::process::id()))
}

#[expect(clippy::as_conversions, clippy::cast_possible_truncation, reason = "levels within a sample's range")]
/// A file of the sounds one after the other.
fn file(name: &str, rate: u32, bits: u16, channels: u16, sounds: &[StringSound]) -> PathBuf {
    let path = place(name);
    let spec = WavSpec { channels, sample_rate: rate, bits_per_sample: bits, sample_format: SampleFormat::Int };
    let mut writer = WavWriter::create(&path, spec).expect("a file");
    let most = f64::from(2_u32.pow(u32::from(bits) - 1) - 1);
    for sample in sounds.iter().flat_map(|sound| sound.render(f64::from(rate), 1.0)) {
        for _ in 0..channels {
            writer.write_sample((f64::from(sample) * most) as i32).expect("room");
        }
    }
    writer.finalize().expect("room");
    path
}

fn text(output: &[u8]) -> String {
    String::from_utf8(output.to_vec()).expect("words")
}

#[test]
fn a_file_is_printed_sound_by_sound_in_json_and_in_words() {
    let sound = |hz, touch, act, seed| StringSound::of(Instrument::Cello, hz, touch, act, seed);
    let path = file(
        "cello",
        44_100,
        16,
        2,
        &[
            sound(146.83, Touch::Open, Act::PLUCK, 1),
            sound(218.0, Touch::Open, Act::PLUCK, 2),
            sound(164.81, Touch::Light, Act::PLUCK, 3),
        ],
    );
    let json = listen(&path, &["--instrument", "cello", "--json"]);
    assert!(json.status.success(), "{}", text(&json.stderr));
    insta::assert_snapshot!(text(&json.stdout), @r#"
    {"at":0.0,"kind":"pluck","hz":146.83,"cents":0.0,"note":"D3","string":"D3","ringSeconds":1.46,"verdict":"rings","confidence":0.99}
    {"at":1.0,"kind":"pluck","hz":218.0,"cents":-15.8,"note":"A3","string":"A3","ringSeconds":1.45,"verdict":"rings","confidence":1.0}
    {"at":2.0,"kind":"pluck","hz":164.81,"cents":0.0,"note":"E3","string":"D3","ringSeconds":0.05,"verdict":"thud","confidence":0.92}
    "#);
    let words = listen(&path, &["--instrument", "vc", "--a4", "442"]);
    insta::assert_snapshot!(text(&words.stdout), @r"
    0.00 s: pluck, D3 -7.9 cents (146.830 Hz) on D3, rings, 20 dB quieter after 1.46 s.
    1.00 s: pluck, A3 -23.7 cents (218.000 Hz) on A3, rings, 20 dB quieter after 1.45 s.
    2.00 s: pluck, E3 -7.9 cents (164.810 Hz) on D3, thud, 20 dB quieter after 0.05 s.
    ");
}

#[test]
fn what_a_bow_does_is_said_and_a_neighbour_where_the_strings_are_known() {
    let bow = |act, seed| StringSound::of(Instrument::Cello, 146.83, Touch::Open, act, seed);
    let light = bow(Act::Bow { force: 0.2, place: 0.03, speed: 0.7, waver: 0.0 }, 3);
    let both = StringSound { neighbour: Some((98.0, 0.5)), ..bow(Act::BOW, 4) };
    let verdicts = |sound: &StringSound, more: &[&str]| {
        let path = file("bow", 48_000, 16, 1, std::slice::from_ref(sound));
        let said = text(&listen(&path, &[more, &["--json"]].concat()).stdout);
        said.lines()
            .map(|line| serde_json::from_str::<serde_json::Value>(line).expect("a line of JSON")["verdict"].clone())
            .collect::<Vec<_>>()
    };
    assert_eq!(verdicts(&light, &["--instrument", "cello"]), ["glass"]);
    assert_eq!(verdicts(&both, &["--instrument", "cello"]), ["two-strings"]);
    assert_ne!(verdicts(&both, &[]), ["two-strings"]);
}

#[test]
fn silence_prints_nothing() {
    let path = place("silent");
    let spec = WavSpec { channels: 1, sample_rate: 8_000, bits_per_sample: 8, sample_format: SampleFormat::Int };
    let mut writer = WavWriter::create(&path, spec).expect("a file");
    for _ in 0..16_000 {
        writer.write_sample(0).expect("room");
    }
    writer.finalize().expect("room");
    let output = listen(&path, &["--json"]);
    assert!(output.status.success());
    assert_eq!(text(&output.stdout), "");
}

#[test]
fn what_cannot_be_listened_to_is_said_and_what_was_heard_is_kept() {
    let refused = |path: &Path, more: &[&str]| {
        let output = listen(path, more);
        assert!(!output.status.success());
        text(&output.stderr)
    };
    assert!(refused(Path::new("/nowhere.wav"), &[]).contains("Cannot read /nowhere.wav"));
    let none = place("none");
    std::fs::write(&none, "not a sound").expect("a file");
    assert!(refused(&none, &[]).contains("Cannot listen to"));
    let odd = file("odd", 192_000, 16, 1, &[]);
    assert!(refused(&odd, &[]).contains("192000 samples a second"));
    assert!(refused(&odd, &["--instrument", "tuba"]).contains("violin, viola, cello, bass"));
    assert!(refused(&odd, &["--a4", "880"]).contains("A4 is 400 to 480 Hz"));
    // Cut off in its second sound: the first one is printed.
    let pluck = |seed| StringSound::of(Instrument::Violin, 440.0, Touch::Open, Act::PLUCK, seed);
    let whole = file("whole", 48_000, 24, 1, &[pluck(1), pluck(2)]);
    let bytes = std::fs::read(&whole).expect("it is there");
    let cut = place("cut");
    std::fs::write(&cut, &bytes[..=bytes.len() * 3 / 4]).expect("a file");
    let output = listen(&cut, &["--json"]);
    assert!(!output.status.success());
    assert!(text(&output.stderr).contains("it ends too early"), "{}", text(&output.stderr));
    assert!(text(&output.stdout).lines().count() >= 1, "{}", text(&output.stdout));
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    #[test]
    fn no_bytes_end_it_otherwise_than_with_a_sentence(
        header in any::<bool>(), bytes in prop::collection::vec(any::<u8>(), 0..4_000), at in 0_usize..44, to in any::<u8>(),
    ) {
        let path = place("hostile");
        let mut content = if header {
            std::fs::read(file("base", 8_000, 16, 1, &[])).expect("it is there")
        } else {
            Vec::new()
        };
        content.extend(bytes);
        if let Some(byte) = content.get_mut(at) {
            *byte = to;
        }
        std::fs::write(&path, content).expect("a file");
        let output = listen(&path, &["--json"]);
        let said = text(&output.stderr);
        prop_assert!(!said.contains("panicked"), "{said}");
        prop_assert!(matches!(output.status.code(), Some(0..=2)), "{:?} {said}", output.status);
    }
}
