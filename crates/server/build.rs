//! Rebuilds the binary when pages or content change: they are embedded in it.

fn main() {
    println!("cargo:rerun-if-changed=../../content");
    println!("cargo:rerun-if-changed=../../web/dist");
}
