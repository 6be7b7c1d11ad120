//! Who waits: a line for each side, the urgent ones apart.

use super::request::{Group, RouteRequest};
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, VecDeque};

/// Those who wait.
#[derive(Clone, Debug, Default, Serialize, Deserialize)]
pub(super) struct Line {
    urgent: Lanes,
    usual: Lanes,
    /// Each ticket in line, by its holder.
    held: BTreeMap<u64, RouteRequest>,
    /// How many of each group are in line.
    groups: BTreeMap<Group, u32>,
    /// The work done for each side since nobody waited last.
    work: Vec<u64>,
}

/// For each side those who wait, the longest first. A holder who has left since is passed over.
#[derive(Clone, Debug, Default, Serialize, Deserialize)]
struct Lanes(Vec<VecDeque<u64>>);

impl Line {
    pub(super) fn add(&mut self, ticket: RouteRequest) {
        match self.held.get_mut(&ticket.who) {
            Some(known) => {
                let left = core::mem::replace(&mut known.group, ticket.group);
                let becomes_urgent = ticket.urgent && !known.urgent;
                known.urgent |= ticket.urgent;
                if becomes_urgent {
                    let known = *known;
                    self.urgent.push(&known);
                }
                self.join_group(ticket.group);
                self.leave_group(left);
            }
            None => {
                self.held.insert(ticket.who, ticket);
                self.join_group(ticket.group);
                if ticket.urgent {
                    self.urgent.push(&ticket);
                } else {
                    self.usual.push(&ticket);
                }
            }
        }
    }

    pub(super) fn remove(&mut self, who: u64) -> bool {
        let Some(ticket) = self.held.remove(&who) else {
            return false;
        };
        self.leave_group(ticket.group);
        if self.held.is_empty() {
            self.urgent.clear();
            self.usual.clear();
        }
        true
    }

    fn join_group(&mut self, group: Option<Group>) {
        if let Some(group) = group {
            *self.groups.entry(group).or_insert(0) += 1;
        }
    }

    fn leave_group(&mut self, group: Option<Group>) {
        if let Some(group) = group
            && let Some(count) = self.groups.get_mut(&group)
        {
            *count -= 1;
            if *count == 0 {
                self.groups.remove(&group);
            }
        }
    }

    /// Takes out whose turn it is: of the urgent ones first, and of the side for which the least work
    /// was done. Ties by number of the side.
    pub(super) fn pop(&mut self) -> Option<RouteRequest> {
        if self.held.is_empty() {
            self.work.clear();
            return None;
        }
        for urgent in [true, false] {
            loop {
                let lanes = if urgent {
                    &mut self.urgent
                } else {
                    &mut self.usual
                };
                let Some(who) = lanes.pop(&self.work) else {
                    break;
                };
                // One who became urgent is still in the other lane.
                let held = self.held.get(&who).copied();
                if let Some(ticket) = held.filter(|ticket| ticket.urgent == urgent) {
                    self.remove(who);
                    return Some(ticket);
                }
            }
        }
        None
    }

    /// Puts one back that was taken out, before all others of its side.
    pub(super) fn put_back(&mut self, ticket: RouteRequest) {
        self.held.insert(ticket.who, ticket);
        self.join_group(ticket.group);
        if ticket.urgent {
            self.urgent.put_back(&ticket);
        } else {
            self.usual.put_back(&ticket);
        }
    }

    /// Notes work done for a side.
    pub(super) fn charge(&mut self, side: u8, work: u32) {
        let side = usize::from(side);
        if self.work.len() <= side {
            self.work.resize(side + 1, 0);
        }
        self.work[side] += u64::from(work);
    }

    /// Takes back work that was noted for a side and has not been done.
    pub(super) fn refund(&mut self, side: u8, work: u32) {
        if let Some(known) = self.work.get_mut(usize::from(side)) {
            *known = known.saturating_sub(u64::from(work));
        }
    }

    pub(super) fn len(&self) -> usize {
        self.held.len()
    }

    pub(super) fn of_group(&self, group: Group) -> u32 {
        self.groups.get(&group).copied().unwrap_or(0)
    }

    pub(super) fn tickets(&self) -> impl Iterator<Item = &RouteRequest> {
        self.held.values()
    }

    /// Whether its lists fit each other: for what was read from a file.
    pub(super) fn is_consistent(&self) -> bool {
        let lanes = self.urgent.0.iter().chain(&self.usual.0).flatten();
        let in_line: std::collections::BTreeSet<u64> = lanes.copied().collect();
        let mut groups: BTreeMap<Group, u32> = BTreeMap::new();
        for group in self.held.values().filter_map(|ticket| ticket.group) {
            *groups.entry(group).or_insert(0) += 1;
        }
        let named = self.held.iter().all(|(who, ticket)| *who == ticket.who);
        let sides = usize::from(u8::MAX) + 1;
        named
            && groups == self.groups
            && self.held.keys().all(|who| in_line.contains(who))
            && self
                .urgent
                .0
                .len()
                .max(self.usual.0.len())
                .max(self.work.len())
                <= sides
    }

    /// How many of its side that are as urgent are before one in line.
    pub(super) fn before(&self, who: u64) -> Option<u32> {
        let ticket = self.held.get(&who)?;
        let lanes = if ticket.urgent {
            &self.urgent
        } else {
            &self.usual
        };
        let lane = lanes.0.get(usize::from(ticket.side))?;
        let waits = |other: &&u64| {
            let held = self.held.get(other);
            held.is_some_and(|held| held.urgent == ticket.urgent)
        };
        Some(
            lane.iter()
                .take_while(|other| **other != who)
                .filter(waits)
                .count() as u32,
        )
    }
}

impl Lanes {
    fn of(&mut self, side: u8) -> &mut VecDeque<u64> {
        let side = usize::from(side);
        if self.0.len() <= side {
            self.0.resize(side + 1, VecDeque::new());
        }
        &mut self.0[side]
    }

    fn push(&mut self, ticket: &RouteRequest) {
        self.of(ticket.side).push_back(ticket.who);
    }

    fn put_back(&mut self, ticket: &RouteRequest) {
        self.of(ticket.side).push_front(ticket.who);
    }

    fn pop(&mut self, work: &[u64]) -> Option<u64> {
        let waiting = (0..self.0.len()).filter(|side| !self.0[*side].is_empty());
        let side = waiting.min_by_key(|side| work.get(*side).copied().unwrap_or(0))?;
        self.0[side].pop_front()
    }

    fn clear(&mut self) {
        self.0.iter_mut().for_each(VecDeque::clear);
    }
}
