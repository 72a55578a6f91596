;; PageRank's two kinds of iteration, see page-rank.ts. All arrays lie in the imported memory; a pointer is a byte offset.
;; rank, start, wide: f64 a node. share, next: f32 a node. degrees: i32 a node. offsets: i32, nodes + 1. sources: i32 an edge.
;; Both give the L1 norm of the new difference, and how much of it nodes without links out hold.
(module
  (import "graph" "memory" (memory 1 65536))
  ;; One iteration on a difference: from what each node gives to one of its links to what it gives next, added to the rank. One pass.
  (func (export "step")
    (param $nodes i32) (param $offsets i32) (param $sources i32) (param $degrees i32) (param $start i32)
    (param $share i32) (param $next i32) (param $rank i32) (param $damping f64) (param $spread f64) (result f64 f64)
    (local $node i32) (local $at i32) (local $end i32) (local $degree i32)
    (local $a f64) (local $b f64) (local $c f64) (local $d f64) (local $change f64) (local $norm f64) (local $held f64)
    (local.set $at (local.get $sources))
    (block $done
      (loop $pulling
        (br_if $done (i32.ge_u (local.get $node) (local.get $nodes)))
        ;; Four sums at a time: each waits for its own additions only. $at and $end are byte offsets into the sources.
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
            (local.set $a (f64.add (local.get $a) (f64.promote_f32 (f32.load (i32.add (local.get $share) (i32.shl (i32.load (local.get $at)) (i32.const 2)))))))
            (local.set $b (f64.add (local.get $b) (f64.promote_f32 (f32.load (i32.add (local.get $share) (i32.shl (i32.load offset=4 (local.get $at)) (i32.const 2)))))))
            (local.set $c (f64.add (local.get $c) (f64.promote_f32 (f32.load (i32.add (local.get $share) (i32.shl (i32.load offset=8 (local.get $at)) (i32.const 2)))))))
            (local.set $d (f64.add (local.get $d) (f64.promote_f32 (f32.load (i32.add (local.get $share) (i32.shl (i32.load offset=12 (local.get $at)) (i32.const 2)))))))
            (local.set $at (i32.add (local.get $at) (i32.const 16)))
            (br $four)))
        (block $none
          (loop $one
            (br_if $none (i32.ge_u (local.get $at) (local.get $end)))
            (local.set $a (f64.add (local.get $a) (f64.promote_f32 (f32.load (i32.add (local.get $share) (i32.shl (i32.load (local.get $at)) (i32.const 2)))))))
            (local.set $at (i32.add (local.get $at) (i32.const 4)))
            (br $one)))
        (local.set $a (f64.add (f64.add (local.get $a) (local.get $b)) (f64.add (local.get $c) (local.get $d))))
        (local.set $change
          (f64.add
            (f64.mul (local.get $damping) (local.get $a))
            (f64.mul (local.get $spread) (f64.load (i32.add (local.get $start) (i32.shl (local.get $node) (i32.const 3)))))))
        (local.set $degree (i32.load (i32.add (local.get $degrees) (i32.shl (local.get $node) (i32.const 2)))))
        (if (local.get $degree)
          (then
            (f32.store
              (i32.add (local.get $next) (i32.shl (local.get $node) (i32.const 2)))
              (f32.div (f32.demote_f64 (local.get $change)) (f32.convert_i32_u (local.get $degree)))))
          (else (local.set $held (f64.add (local.get $held) (local.get $change)))))
        (f64.store
          (i32.add (local.get $rank) (i32.shl (local.get $node) (i32.const 3)))
          (f64.add
            (f64.load (i32.add (local.get $rank) (i32.shl (local.get $node) (i32.const 3))))
            (local.get $change)))
        (local.set $norm (f64.add (local.get $norm) (f64.abs (local.get $change))))
        (local.set $node (i32.add (local.get $node) (i32.const 1)))
        (br $pulling)))
    (local.get $norm)
    (local.get $held))
  ;; One exact iteration on the rank: its difference from the rank, in double precision.
  (func (export "residual")
    (param $nodes i32) (param $offsets i32) (param $sources i32) (param $degrees i32) (param $start i32)
    (param $wide i32) (param $next i32) (param $rank i32) (param $damping f64) (param $mass f64) (result f64 f64)
    (local $node i32) (local $at i32) (local $end i32) (local $degree i32)
    (local $a f64) (local $b f64) (local $c f64) (local $d f64) (local $change f64) (local $norm f64) (local $held f64)
    (local $spread f64)
    (block $shared
      (loop $sharing
        (br_if $shared (i32.ge_u (local.get $node) (local.get $nodes)))
        (local.set $degree (i32.load (i32.add (local.get $degrees) (i32.shl (local.get $node) (i32.const 2)))))
        (local.set $change (f64.load (i32.add (local.get $rank) (i32.shl (local.get $node) (i32.const 3)))))
        (if (local.get $degree)
          (then
            (f64.store
              (i32.add (local.get $wide) (i32.shl (local.get $node) (i32.const 3)))
              (f64.div (local.get $change) (f64.convert_i32_u (local.get $degree)))))
          (else (local.set $held (f64.add (local.get $held) (local.get $change)))))
        (local.set $node (i32.add (local.get $node) (i32.const 1)))
        (br $sharing)))
    (local.set $spread
      (f64.add
        (f64.div (f64.mul (local.get $damping) (local.get $held)) (local.get $mass))
        (f64.sub (f64.const 1) (local.get $damping))))
    (local.set $held (f64.const 0))
    (local.set $node (i32.const 0))
    (local.set $at (local.get $sources))
    (block $done
      (loop $pulling
        (br_if $done (i32.ge_u (local.get $node) (local.get $nodes)))
        ;; Four sums at a time: each waits for its own additions only. $at and $end are byte offsets into the sources.
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
            (local.set $a (f64.add (local.get $a) (f64.load (i32.add (local.get $wide) (i32.shl (i32.load (local.get $at)) (i32.const 3))))))
            (local.set $b (f64.add (local.get $b) (f64.load (i32.add (local.get $wide) (i32.shl (i32.load offset=4 (local.get $at)) (i32.const 3))))))
            (local.set $c (f64.add (local.get $c) (f64.load (i32.add (local.get $wide) (i32.shl (i32.load offset=8 (local.get $at)) (i32.const 3))))))
            (local.set $d (f64.add (local.get $d) (f64.load (i32.add (local.get $wide) (i32.shl (i32.load offset=12 (local.get $at)) (i32.const 3))))))
            (local.set $at (i32.add (local.get $at) (i32.const 16)))
            (br $four)))
        (block $none
          (loop $one
            (br_if $none (i32.ge_u (local.get $at) (local.get $end)))
            (local.set $a (f64.add (local.get $a) (f64.load (i32.add (local.get $wide) (i32.shl (i32.load (local.get $at)) (i32.const 3))))))
            (local.set $at (i32.add (local.get $at) (i32.const 4)))
            (br $one)))
        (local.set $a (f64.add (f64.add (local.get $a) (local.get $b)) (f64.add (local.get $c) (local.get $d))))
        (local.set $change
          (f64.sub
            (f64.add
              (f64.mul (local.get $damping) (local.get $a))
              (f64.mul (local.get $spread) (f64.load (i32.add (local.get $start) (i32.shl (local.get $node) (i32.const 3))))))
            (f64.load (i32.add (local.get $rank) (i32.shl (local.get $node) (i32.const 3))))))
        (local.set $degree (i32.load (i32.add (local.get $degrees) (i32.shl (local.get $node) (i32.const 2)))))
        (if (local.get $degree)
          (then
            (f32.store
              (i32.add (local.get $next) (i32.shl (local.get $node) (i32.const 2)))
              (f32.div (f32.demote_f64 (local.get $change)) (f32.convert_i32_u (local.get $degree)))))
          (else (local.set $held (f64.add (local.get $held) (local.get $change)))))
        (f64.store
          (i32.add (local.get $rank) (i32.shl (local.get $node) (i32.const 3)))
          (f64.add
            (f64.load (i32.add (local.get $rank) (i32.shl (local.get $node) (i32.const 3))))
            (local.get $change)))
        (local.set $norm (f64.add (local.get $norm) (f64.abs (local.get $change))))
        (local.set $node (i32.add (local.get $node) (i32.const 1)))
        (br $pulling)))
    (local.get $norm)
    (local.get $held)))
