//! The record: entries chained by hashes, digests of the rows that they bind, and the verification of both.

pub mod digests;
pub mod entry;
pub mod heads;
pub mod rebuild;
pub mod shop;
