//! What a search is to go on from, the cheapest first.

use super::buckets::Buckets;
use core::cmp::Reverse;
use std::collections::BinaryHeap;

/// A ring of buckets, or where dear links would make that too long, a heap.
#[derive(Clone, Debug, Default)]
pub(super) struct Queue {
    ring: Buckets,
    heap: BinaryHeap<Reverse<(u64, u32)>>,
    is_heap: bool,
}

impl Queue {
    /// Empties it, for keys that lie at most `span` above the last one taken out, if that is known.
    pub(super) fn clear(&mut self, span: Option<u64>) {
        self.is_heap = span.is_none();
        self.heap.clear();
        if let Some(span) = span {
            self.ring.clear(span);
        }
    }

    #[inline]
    pub(super) fn push(&mut self, key: u64, node: u32) {
        if self.is_heap {
            self.heap.push(Reverse((key, node)));
        } else {
            self.ring.push(key, node);
        }
    }

    #[inline]
    pub(super) fn pop(&mut self) -> Option<u32> {
        if self.is_heap {
            self.heap.pop().map(|Reverse((_, node))| node)
        } else {
            self.ring.pop()
        }
    }
}
