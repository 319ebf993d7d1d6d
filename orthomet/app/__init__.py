"""The application: Qt Widgets over the core. No arithmetic of the trade here, only screen geometry."""

# Qt's bindings read the source of every module that is imported after them. One of pydantic's asks for itself when it is
# read half imported, so all of them have to be there first, whichever of our modules is the first to be imported.
import pydantic.fields  # noqa: F401
