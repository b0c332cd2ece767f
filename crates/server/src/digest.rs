//! Short texts that stand for long ones.

use sha2::{Digest, Sha256};

/// Stands for exactly this text: what somebody agreed to, or changes, is compared by it. 32 digits.
#[must_use]
pub fn digest(text: &str) -> String {
    digest_of(text.as_bytes())
}

/// The same of a file.
#[must_use]
pub fn digest_of(bytes: &[u8]) -> String {
    let hash: [u8; 32] = Sha256::digest(bytes).into();
    let (half, _) = hash.split_at(16);
    hex(half)
}

/// Bytes as digits, two each.
#[must_use]
pub fn hex(bytes: &[u8]) -> String {
    bytes.iter().fold(String::new(), |written, byte| format!("{written}{byte:02x}"))
}
