"""Addresses of the history."""

from django.urls import path

from darre.history.api.views import HistoryEntryView, HistoryListView, UndoView

urlpatterns = [
    path("history/", HistoryListView.as_view()),
    path("history/<int:entry_id>/", HistoryEntryView.as_view()),
    path("history/<int:entry_id>/undo/", UndoView.as_view()),
]
