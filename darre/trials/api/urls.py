"""Addresses of trials."""

from django.urls import path

from darre.trials.api import air_views, ladder_views, views

urlpatterns = [
    path("trials/", views.TrialsView.as_view()),
    path("trials/design/", views.DesignView.as_view()),
    path("trials/swelling-design/", views.SwellingDesignView.as_view()),
    path("trials/<int:trial_id>/", views.TrialView.as_view()),
    path("trials/<int:trial_id>/end/", views.EndTrialView.as_view()),
    path("trials/<int:trial_id>/take-over/", views.TakeOverView.as_view()),
    path("trials/<int:trial_id>/samples/", views.SamplesView.as_view()),
    path("trials/<int:trial_id>/air/", air_views.TrialAirView.as_view()),
    path("trials/<int:trial_id>/slip/", views.SlipView.as_view()),
    path("ladders/", ladder_views.LaddersView.as_view()),
    path("ladders/design/", ladder_views.LadderDesignView.as_view()),
    path("rungs/<int:rung_id>/prints/", ladder_views.RungPrintsView.as_view()),
    path("rung-prints/<int:print_id>/", ladder_views.RungPrintView.as_view()),
    path("trial-air/<int:note_id>/", air_views.AirNoteView.as_view()),
    path("samples/<int:sample_id>/readings/", views.SampleReadingsView.as_view()),
    path("sample-readings/<int:reading_id>/", views.SampleReadingView.as_view()),
]
