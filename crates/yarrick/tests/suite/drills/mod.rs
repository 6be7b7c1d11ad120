//! The behaviour language: its errors, its machine, and the creatures that it drives.

mod creatures;
mod hostile;
mod machine;
mod words;
mod wrong;
