"""What several tests need: parts, shapes, views and readers. No file in here is a test."""
