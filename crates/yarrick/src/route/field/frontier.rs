//! Where the spreading of a field goes on.

use crate::ground::steps::ANY;
use crate::route::buckets::Buckets;
use core::cmp::Reverse;
use std::collections::BinaryHeap;

/// What is to be gone on from.
#[derive(Clone, Debug, Default)]
pub(super) struct Frontier {
    kind: Kind,
    /// On ground of one speed: entries with the steps that led to them, by what is left modulo 8.
    pub(super) ring: [Vec<u32>; 8],
    pub(super) at: u64,
    pub(super) buckets: Buckets,
    pub(super) heap: BinaryHeap<Reverse<(u64, u32)>>,
    pub(super) count: usize,
}

#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
enum Kind {
    /// Ground of one speed.
    #[default]
    Even,
    /// Ground of several speeds.
    Uneven,
    /// Links, which may be dear.
    Linked,
}

/// How many bits of an entry of the ring name the node; the rest is the step.
pub(super) const NODE_BITS: u32 = 27;

impl Frontier {
    pub(super) fn clear(&mut self, even: bool, linked: bool, heaviest: u8) {
        self.kind = match (even, linked) {
            (true, _) => Kind::Even,
            (false, false) => Kind::Uneven,
            (false, true) => Kind::Linked,
        };
        self.ring.iter_mut().for_each(Vec::clear);
        self.heap.clear();
        self.at = 0;
        self.count = 0;
        if self.kind == Kind::Uneven {
            self.buckets.clear(7 * 2 * u64::from(heaviest));
        }
    }

    pub(super) fn push_goal(&mut self, node: u32) {
        self.push(0, node, ANY as u32);
    }

    pub(super) fn push(&mut self, left: u64, node: u32, by: u32) {
        self.count += 1;
        match self.kind {
            Kind::Even => self.ring[(left % 8) as usize].push(by << NODE_BITS | node),
            Kind::Uneven => self.buckets.push(left, node),
            Kind::Linked => self.heap.push(Reverse((left, node))),
        }
    }

    pub(super) fn pop(&mut self) -> Option<u32> {
        let next = match self.kind {
            Kind::Even => None,
            Kind::Uneven => self.buckets.pop(),
            Kind::Linked => self.heap.pop().map(|Reverse((_, node))| node),
        };
        self.count -= usize::from(next.is_some());
        next
    }

    /// Takes the smallest out of a heap, with what was left when it was put in.
    pub(super) fn pop_smallest(&mut self) -> Option<(u64, u32)> {
        let next = self.heap.pop().map(|Reverse(next)| next);
        self.count -= usize::from(next.is_some());
        next
    }

    pub(super) fn is_empty(&self) -> bool {
        self.count == 0
    }

    /// What is left from those that are looked at next, at the least.
    pub(super) fn at(&self) -> u64 {
        self.at
    }

    pub(super) fn bytes(&self) -> usize {
        let ring: usize = self.ring.iter().map(Vec::capacity).sum();
        4 * ring + 16 * self.heap.capacity() + self.buckets.bytes()
    }
}
