//! The fuzz targets' corpora, and as many random changes to them as there is time for.

#[path = "../../../../fuzz/harness.rs"]
mod harness;

use std::path::PathBuf;

/// The files of a target's corpus, in the order of their names.
fn corpus(target: &str) -> Vec<(PathBuf, Vec<u8>)> {
    let directory = PathBuf::from(env!("CARGO_MANIFEST_DIR")).join("../../fuzz/corpus").join(target);
    let entries = std::fs::read_dir(&directory).unwrap_or_else(|e| panic!("{}: {e}", directory.display()));
    let mut files: Vec<PathBuf> = entries.map(|entry| entry.expect("an entry").path()).collect();
    files.sort();
    assert!(!files.is_empty(), "{} is empty", directory.display());
    files.into_iter().map(|file| (file.clone(), std::fs::read(&file).expect("a file"))).collect()
}

/// A number that depends on nothing but its arguments.
fn roll(seed: u64, below: usize) -> usize {
    let mut h = seed.wrapping_mul(0x9E37_79B9_7F4A_7C15);
    h = (h ^ (h >> 30)).wrapping_mul(0xBF58_476D_1CE4_E5B9);
    h = (h ^ (h >> 27)).wrapping_mul(0x94D0_49BB_1331_11EB);
    ((h ^ (h >> 31)) % below.max(1) as u64) as usize
}

/// Bytes changed, doubled, dropped and put in, here and there.
fn changed(bytes: &[u8], seed: u64) -> Vec<u8> {
    let mut bytes = bytes.to_vec();
    for change in 0..1 + roll(seed, 8) as u64 {
        let seed = seed * 31 + change;
        let at = roll(seed ^ 1, bytes.len());
        match roll(seed ^ 2, 4) {
            0 if at < bytes.len() => bytes[at] = roll(seed ^ 3, 256) as u8,
            1 if at < bytes.len() => bytes[at] ^= 1 << roll(seed ^ 4, 8),
            2 => bytes.truncate(at),
            _ => bytes.insert(at, roll(seed ^ 5, 256) as u8),
        }
    }
    bytes
}

fn replay(target: &str, each: fn(&[u8]), changes: u64) {
    for (number, (file, bytes)) in corpus(target).into_iter().enumerate() {
        println!("{}", file.display());
        each(&bytes);
        (0..changes).for_each(|seed| each(&changed(&bytes, seed * 101 + number as u64)));
    }
}

#[test]
fn meshes_of_any_numbers_are_refused_or_usable() {
    replay("mesh", harness::mesh, 2000);
}

#[test]
fn whatever_is_thrown_about_stays_finite_and_over_the_floor() {
    // They are the longest: all of them where `NEWEL_TESTS` is `full`.
    let is_full = std::env::var("NEWEL_TESTS").is_ok_and(|tests| tests == "full");
    replay("tick", harness::tick, if is_full { 3000 } else { 1000 });
}

#[test]
fn courses_of_any_text_are_refused_with_a_reason_or_read() {
    replay("course", harness::course, 1500);
}
