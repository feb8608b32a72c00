"""The web application: one router a stage, request models, problem documents."""
