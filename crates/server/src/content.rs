//! The content and the pages, embedded in the binary; content can be read from a folder to check it.

use std::path::Path;

use bright_row_core::craft::loader::class_file::{self, ClassChecklist};
use bright_row_core::craft::loader::{Content, Fault, Source, prove, read};
use rust_embed::RustEmbed;

use crate::digest::digest;
use crate::failure::Failure;

#[derive(RustEmbed)]
#[folder = "../../content"]
struct Files;

/// The built pages: `index.html` and what it loads.
#[derive(RustEmbed)]
#[folder = "../../web/dist"]
pub struct Pages;

/// The files of the content this build carries, by path.
fn files() -> Vec<(String, String)> {
    let text = |path: std::borrow::Cow<'static, str>| {
        let text = String::from_utf8(Files::get(&path)?.data.into_owned()).ok()?;
        Some((path.into_owned(), text))
    };
    let mut files: Vec<_> = Files::iter().filter_map(text).collect();
    files.sort();
    files
}

/// Stands for the content of this build: that of another content is another.
#[must_use]
pub fn content_digest() -> String {
    // With lengths, so that text cannot wander from one file to the next.
    let files = files().into_iter().map(|(path, text)| format!("{path} {} {text}", text.len()));
    digest(&files.collect::<String>())
}

/// The content this build carries; a test proves that it has no fault.
#[must_use]
pub fn embedded() -> Content {
    let files = files();
    let sources: Vec<Source<'_>> = files.iter().map(|(path, text)| Source { path, text }).collect();
    read(&sources).expect("the embedded content was checked by a test")
}

/// Reads every TOML file of a folder; the outer error is a folder that cannot be read, the inner the faults found.
///
/// # Errors
/// [`Failure::Unreadable`] with the path.
pub fn from_folder(folder: &Path) -> Result<Result<Content, Vec<Fault>>, Failure> {
    let mut files = Vec::new();
    gather(folder, folder, &mut files)?;
    files.sort();
    let sources: Vec<Source<'_>> = files.iter().map(|(path, text)| Source { path, text }).collect();
    Ok(prove(&sources))
}

/// Reads the checklist file of a class against the content that this build carries.
///
/// # Errors
/// [`Failure::Unreadable`] with the path; the inner error is the faults found.
pub fn class_file(path: &Path) -> Result<Result<ClassChecklist, Vec<Fault>>, Failure> {
    let unreadable = |cause| Failure::Unreadable { path: path.display().to_string(), cause };
    let text = std::fs::read_to_string(path).map_err(unreadable)?;
    let name = path.file_name().unwrap_or_default().to_string_lossy();
    Ok(class_file::read(Source { path: &name, text: &text }, &embedded()))
}

fn gather(root: &Path, folder: &Path, files: &mut Vec<(String, String)>) -> Result<(), Failure> {
    let unreadable = |path: &Path, cause| Failure::Unreadable { path: path.display().to_string(), cause };
    for entry in std::fs::read_dir(folder).map_err(|cause| unreadable(folder, cause))? {
        let path = entry.map_err(|cause| unreadable(folder, cause))?.path();
        if path.is_dir() {
            gather(root, &path, files)?;
        } else if path.extension().is_some_and(|end| end == "toml") {
            let text = std::fs::read_to_string(&path).map_err(|cause| unreadable(&path, cause))?;
            let inside = path.strip_prefix(root).unwrap_or(&path);
            let parts: Vec<_> = inside.iter().map(|part| part.to_string_lossy()).collect();
            files.push((parts.join("/"), text));
        }
    }
    Ok(())
}

#[cfg(test)]
mod tests {
    #[test]
    fn the_embedded_content_has_no_fault() {
        assert!(!super::embedded().standard().checkpoints().is_empty());
    }
}
