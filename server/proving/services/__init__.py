"""What proving does."""
