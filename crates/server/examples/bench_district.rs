//! Rosters of a whole district for `./bench`: `bench_district FOLDER` makes `district.csv`, a table of 200,000 children with their
//! classes, and `district.zip`, the same children as a `OneRoster` bundle with three classes each.
#![allow(missing_docs, clippy::print_stderr)]

use std::fs::File;
use std::io::{BufWriter, Error, Write};
use std::path::PathBuf;

use zip::write::SimpleFileOptions;

const CHILDREN: u32 = 200_000;
const CHILDREN_IN_A_CLASS: u32 = 25;
const SUBJECTS: [&str; 3] = ["Beginning Strings", "Mathematics", "Reading"];

fn main() -> Result<(), Error> {
    let folder = PathBuf::from(std::env::args().nth(1).ok_or_else(|| Error::other("bench_district FOLDER"))?);
    let mut table = BufWriter::new(File::create(folder.join("district.csv"))?);
    writeln!(table, "Last name,First name,Grade,Student ID,Class,Teacher,Room")?;
    for child in 0..CHILDREN {
        let class = child / CHILDREN_IN_A_CLASS;
        writeln!(table, "Family{child},Given{child},4,N{child},Beginning Strings {class},T. Eacher,{class}")?;
    }
    table.flush()?;
    let mut zip = zip::ZipWriter::new(BufWriter::new(File::create(folder.join("district.zip"))?));
    zip.start_file("users.csv", SimpleFileOptions::default())?;
    writeln!(zip, "sourcedId,status,enabledUser,role,identifier,givenName,familyName,grades,email")?;
    for child in 0..CHILDREN {
        let id = id_of(child);
        writeln!(zip, "{id},active,true,student,N{child},Given{child},Family{child},04,{child}@district.example")?;
    }
    zip.start_file("classes.csv", SimpleFileOptions::default())?;
    writeln!(zip, "sourcedId,status,title,classCode")?;
    for class in 0..CHILDREN / CHILDREN_IN_A_CLASS {
        for (number, subject) in SUBJECTS.iter().enumerate() {
            writeln!(zip, "c{class}-{number},active,{subject} {class},{class}")?;
        }
    }
    zip.start_file("enrollments.csv", SimpleFileOptions::default())?;
    writeln!(zip, "sourcedId,status,classSourcedId,userSourcedId,role,beginDate,endDate")?;
    for child in 0..CHILDREN {
        let (id, class) = (id_of(child), child / CHILDREN_IN_A_CLASS);
        for number in 0..SUBJECTS.len() {
            writeln!(zip, "e{child}-{number},active,c{class}-{number},{id},student,2026-09-01,2027-06-30")?;
        }
    }
    zip.finish()?.flush()
}

/// Ids as offices have them: they make a zip as large as it is.
fn id_of(child: u32) -> String {
    let mixed = u128::from(child).wrapping_mul(0x9E37_79B9_7F4A_7C15_F39C_C060_5CED_C835);
    uuid::Uuid::from_u128(mixed).to_string()
}
