"""The sample world: The Slow Harvest, drawn and written by the product itself."""
