//! What blows do.

/// A blow that lands. `By` names the striker, who may be gone by then.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Blow<By> {
    /// Who strikes.
    pub by: By,
    /// The number of the body that it hits.
    pub target: u32,
    /// What it takes, in points.
    pub damage: f32,
}

/// A body that a blow has killed.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Fallen<By> {
    /// Its number.
    pub who: u32,
    /// The striker of the last blow.
    pub by: By,
}

/// Subtracts the blows of a tick from the health of their targets, down to 0 at the least, and returns the bodies that
/// have died. All blows land: a body that dies has struck its own blow in this tick.
///
/// # Panics
/// If a blow hits a number that `health` does not have.
pub fn deal<By: Copy>(blows: &[Blow<By>], health: &mut [f32]) -> Vec<Fallen<By>> {
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
