"""Cards that move: frames out of a drawing's layers, and films out of frames."""
