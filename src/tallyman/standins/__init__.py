"""Stand-ins for what a company has around Tallyman."""
