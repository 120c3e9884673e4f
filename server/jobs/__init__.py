"""Long work over many gangs: asked for once, done beside the requests, seen and stopped by whoever asked."""
