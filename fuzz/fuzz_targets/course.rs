#![no_main]

#[path = "../harness.rs"]
#[allow(dead_code)]
mod harness;

libfuzzer_sys::fuzz_target!(|bytes: &[u8]| harness::course(bytes));
