//! What blows do.

/// A blow that lands.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Blow {
    /// The number of who strikes.
    pub by: u32,
    /// The number of whom it hits.
    pub target: u32,
    /// What it takes, in points.
    pub damage: f32,
}

/// One that a blow has killed.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Fallen {
    /// Its number.
    pub who: u32,
    /// The number of who struck the last of its health away.
    pub by: u32,
}

/// Subtracts the blows of a tick from the health of their targets, down to 0 at the least, and returns the bodies that
/// have died. All blows land: a body that dies has struck its own blow in this tick.
///
/// # Panics
/// If a blow hits a number that `health` does not have.
pub fn deal(blows: &[Blow], health: &mut [f32]) -> Vec<Fallen> {
    let mut fallen = Vec::new();
    for blow in blows {
        let left = &mut health[blow.target as usize];
        if *left <= 0.0 {
            continue;
        }
        *left = (*left - blow.damage.max(0.0)).max(0.0);
        if *left == 0.0 {
            fallen.push(Fallen {
                who: blow.target,
                by: blow.by,
            });
        }
    }
    fallen
}
