//! The names of things: small numbers that are safe to keep, to send and to compare.

use core::fmt;
use core::str::FromStr;
use serde::{Deserialize, Deserializer, Serialize, Serializer};

/// The text is not an id such as `7v2`.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
#[error("an id is written as slot and generation, such as 7v2")]
pub struct NotAnId;

/// Declares an id made of a slot and a generation: once what it names is gone, it names nothing.
macro_rules! generational_id {
    ($(#[$about:meta])* $Id:ident) => {
        $(#[$about])*
        ///
        /// Written as slot and generation, such as `7v2`. Ordered by slot.
        #[derive(Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
        pub struct $Id {
            slot: u32,
            generation: u32,
        }

        impl fmt::Display for $Id {
            fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
                // `pad`, so that tables can align ids.
                f.pad(&format!("{}v{}", self.slot, self.generation))
            }
        }

        impl fmt::Debug for $Id {
            fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
                fmt::Display::fmt(self, f)
            }
        }

        impl FromStr for $Id {
            type Err = NotAnId;

            fn from_str(text: &str) -> Result<$Id, NotAnId> {
                let (slot, generation) = text.split_once('v').ok_or(NotAnId)?;
                let number = |digits: &str| digits.parse().map_err(|_| NotAnId);
                Ok($Id {
                    slot: number(slot)?,
                    generation: number(generation)?,
                })
            }
        }

        /// As text such as `7v2` in formats for people, as two numbers in others.
        impl Serialize for $Id {
            fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
                if serializer.is_human_readable() {
                    serializer.collect_str(self)
                } else {
                    self.parts().serialize(serializer)
                }
            }
        }

        impl<'de> Deserialize<'de> for $Id {
            fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<$Id, D::Error> {
                if deserializer.is_human_readable() {
                    let text = String::deserialize(deserializer)?;
                    text.parse().map_err(serde::de::Error::custom)
                } else {
                    let (slot, generation) = Deserialize::deserialize(deserializer)?;
                    Ok($Id { slot, generation })
                }
            }
        }

        impl $Id {
            /// An id from its two numbers: for what comes over a wire. The world says whether it names anything.
            #[must_use]
            pub fn from_parts(slot: u32, generation: u32) -> $Id {
                $Id { slot, generation }
            }

            /// The slot and the generation.
            #[must_use]
            pub fn parts(self) -> (u32, u32) {
                (self.slot, self.generation)
            }
        }
    };
}

generational_id! {
    /// Names one unit, for good.
    UnitId
}

generational_id! {
    /// Names one projectile in flight, for good.
    ProjectileId
}

impl UnitId {
    /// The id as one number, by which the route planner knows the unit.
    pub(crate) fn number(self) -> u64 {
        u64::from(self.generation) << 32 | u64::from(self.slot)
    }

    /// The id of such a number.
    pub(crate) fn of_number(number: u64) -> UnitId {
        UnitId::from_parts(number as u32, (number >> 32) as u32)
    }

    /// The id that the n-th unit of a new world gets, counted from 0.
    pub(crate) fn of_nth(n: u32) -> UnitId {
        UnitId::from_parts(n, 1)
    }
}

/// The number of an order: the first command that a world accepts is 1, the next 2, and so on.
/// All units of a command share it.
#[derive(
    Clone, Copy, Debug, Default, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize,
)]
pub struct OrderNo(pub u32);

impl fmt::Display for OrderNo {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        self.0.fmt(f)
    }
}

/// Names a change that was handed in: every event that answers the change carries it.
///
/// Tickets are numbered per side, and apart for the game itself: so they do not depend on whose
/// changes arrived first.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct Ticket {
    /// The side that gave the command; `None` for changes made by the game.
    pub side: Option<SideId>,
    /// Counted from 1. `0` for what the world itself begins: orders to units that come out of a building, for its rally
    /// points, and the way of units of the assault that nothing leads.
    pub number: u32,
}

impl fmt::Display for Ticket {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self.side {
            Some(side) => write!(f, "{}.{}", side.0, self.number),
            None => write!(f, "game.{}", self.number),
        }
    }
}

impl FromStr for Ticket {
    type Err = NotATicket;

    fn from_str(text: &str) -> Result<Ticket, NotATicket> {
        let (side, number) = text.split_once('.').ok_or(NotATicket)?;
        let side = match side {
            "game" => None,
            side => Some(SideId(side.parse().map_err(|_| NotATicket)?)),
        };
        let number = number.parse().map_err(|_| NotATicket)?;
        Ok(Ticket { side, number })
    }
}

/// The text is not a ticket such as `0.12` or `game.3`.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
#[error("a ticket is written as side and number, such as 0.12 or game.3")]
pub struct NotATicket;

/// As text such as `0.12` in formats for people, as side and number in others.
impl Serialize for Ticket {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        if serializer.is_human_readable() {
            serializer.collect_str(self)
        } else {
            (self.side, self.number).serialize(serializer)
        }
    }
}

impl<'de> Deserialize<'de> for Ticket {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Ticket, D::Error> {
        if deserializer.is_human_readable() {
            let text = String::deserialize(deserializer)?;
            text.parse().map_err(serde::de::Error::custom)
        } else {
            let (side, number) = Deserialize::deserialize(deserializer)?;
            Ok(Ticket { side, number })
        }
    }
}

/// Names a side, by its place in the list of sides.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
pub struct SideId(pub u8);

impl fmt::Display for SideId {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "side {}", self.0)
    }
}

/// Names a flock of a world.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
pub struct FlockId(pub u16);

impl fmt::Display for FlockId {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "flock {}", self.0)
    }
}
