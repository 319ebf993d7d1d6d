"""How everything looks: tokens for day and night, fonts, the few painters' helpers."""
