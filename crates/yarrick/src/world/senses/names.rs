//! Names of places and of groups of units.

/// Places that drills know by name.
pub(crate) const PLACES: [&str; 3] = ["goal", "home", "here"];

/// Groups of units that drills know by name.
pub(crate) const GROUPS: [&str; 4] = ["foe", "friend", "unit", "own kind"];
