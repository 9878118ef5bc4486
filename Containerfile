# The application alone, over a PostgreSQL that DATABASE_URL names: podman build -t lift-crate . (or any other engine)
FROM node:22-bookworm-slim
RUN apt-get update && apt-get install -y --no-install-recommends ca-certificates python3 python3-venv && rm -rf /var/lib/apt/lists/*
WORKDIR /lift-crate
COPY . .
RUN ./run build
# What vouches for the server in the network, and nothing else, is kept here.
VOLUME /lift-crate/.data
EXPOSE 8443
ENTRYPOINT ["./run"]
CMD ["start", "--lan"]
