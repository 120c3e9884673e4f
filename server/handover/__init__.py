"""What leaves the application: the loop sheet on paper and as a file."""
