"""What comes in and goes out: requests, files, errors, logs, headers. The one way in."""
