;; One iteration of PageRank on a difference, see page-rank.ts. All arrays lie in the imported memory; a pointer is a byte offset.
;; difference, rank, start, inverse: f64 a node. share: f32 a node. offsets: i32, nodes + 1. sources: i32 an edge.
;; Gives the L1 norm of the new difference.
(module
  (import "graph" "memory" (memory 1 65536))
  (func (export "step")
    (param $nodes i32) (param $offsets i32) (param $sources i32) (param $inverse i32) (param $start i32)
    (param $share i32) (param $difference i32) (param $rank i32) (param $damping f64) (param $mass f64) (result f64)
    (local $node i32) (local $at i32) (local $end i32) (local $inv f64) (local $dangling f64)
    (local $a f64) (local $b f64) (local $c f64) (local $d f64) (local $change f64) (local $norm f64)
    ;; What each node gives to one of its links; what nodes without links hold is kept apart.
    (block $shared
      (loop $sharing
        (br_if $shared (i32.ge_u (local.get $node) (local.get $nodes)))
        (local.set $inv (f64.load (i32.add (local.get $inverse) (i32.shl (local.get $node) (i32.const 3)))))
        (local.set $change (f64.load (i32.add (local.get $difference) (i32.shl (local.get $node) (i32.const 3)))))
        (if (f64.eq (local.get $inv) (f64.const 0))
          (then (local.set $dangling (f64.add (local.get $dangling) (local.get $change))))
          (else
            (f32.store
              (i32.add (local.get $share) (i32.shl (local.get $node) (i32.const 2)))
              (f32.demote_f64 (f64.mul (local.get $change) (local.get $inv))))))
        (local.set $node (i32.add (local.get $node) (i32.const 1)))
        (br $sharing)))
    (local.set $dangling (f64.div (f64.mul (local.get $damping) (local.get $dangling)) (local.get $mass)))
    (local.set $node (i32.const 0))
    ;; $at and $end are byte offsets into the sources from here on.
    (local.set $at (local.get $sources))
    (block $done
      (loop $pulling
        (br_if $done (i32.ge_u (local.get $node) (local.get $nodes)))
        (local.set $end
          (i32.add
            (local.get $sources)
            (i32.shl
              (i32.load offset=4 (i32.add (local.get $offsets) (i32.shl (local.get $node) (i32.const 2))))
              (i32.const 2))))
        (local.set $a (f64.const 0))
        (local.set $b (f64.const 0))
        (local.set $c (f64.const 0))
        (local.set $d (f64.const 0))
        (block $rest
          (loop $four
            (br_if $rest (i32.gt_u (i32.add (local.get $at) (i32.const 16)) (local.get $end)))
            (local.set $a (f64.add (local.get $a) (f64.promote_f32 (f32.load
              (i32.add (local.get $share) (i32.shl (i32.load (local.get $at)) (i32.const 2)))))))
            (local.set $b (f64.add (local.get $b) (f64.promote_f32 (f32.load
              (i32.add (local.get $share) (i32.shl (i32.load offset=4 (local.get $at)) (i32.const 2)))))))
            (local.set $c (f64.add (local.get $c) (f64.promote_f32 (f32.load
              (i32.add (local.get $share) (i32.shl (i32.load offset=8 (local.get $at)) (i32.const 2)))))))
            (local.set $d (f64.add (local.get $d) (f64.promote_f32 (f32.load
              (i32.add (local.get $share) (i32.shl (i32.load offset=12 (local.get $at)) (i32.const 2)))))))
            (local.set $at (i32.add (local.get $at) (i32.const 16)))
            (br $four)))
        (block $none
          (loop $one
            (br_if $none (i32.ge_u (local.get $at) (local.get $end)))
            (local.set $a (f64.add (local.get $a) (f64.promote_f32 (f32.load
              (i32.add (local.get $share) (i32.shl (i32.load (local.get $at)) (i32.const 2)))))))
            (local.set $at (i32.add (local.get $at) (i32.const 4)))
            (br $one)))
        (local.set $change
          (f64.add
            (f64.mul (local.get $damping)
              (f64.add (f64.add (local.get $a) (local.get $b)) (f64.add (local.get $c) (local.get $d))))
            (f64.mul (local.get $dangling)
              (f64.load (i32.add (local.get $start) (i32.shl (local.get $node) (i32.const 3)))))))
        (f64.store (i32.add (local.get $difference) (i32.shl (local.get $node) (i32.const 3))) (local.get $change))
        (f64.store
          (i32.add (local.get $rank) (i32.shl (local.get $node) (i32.const 3)))
          (f64.add
            (f64.load (i32.add (local.get $rank) (i32.shl (local.get $node) (i32.const 3))))
            (local.get $change)))
        (local.set $norm (f64.add (local.get $norm) (f64.abs (local.get $change))))
        (local.set $node (i32.add (local.get $node) (i32.const 1)))
        (br $pulling)))
    (local.get $norm)))
