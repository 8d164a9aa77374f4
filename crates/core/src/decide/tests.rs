//! Decisions: tests.
