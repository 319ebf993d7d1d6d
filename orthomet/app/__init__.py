"""The application: Qt Widgets over the core. No arithmetic of the trade here, only screen geometry."""
