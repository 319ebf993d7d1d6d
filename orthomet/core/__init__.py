"""The trade, without a toolkit: landmarks, proportions, plan, construction, check. Nothing here imports Qt."""
