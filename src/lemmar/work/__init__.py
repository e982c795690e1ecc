"""Work on a monorepo: what must be written where. How it is shown, and whether it is written, is the caller's business."""
