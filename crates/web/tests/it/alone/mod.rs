//! What needs no room around it.

mod archive_files;
mod assets;
mod pictures;
mod set_forms;
mod sheet_view;
mod tables;
