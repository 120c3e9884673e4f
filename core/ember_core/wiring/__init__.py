"""What is joined to what between board, boxes and ceiling, and what that wiring does in every state of its switches."""
