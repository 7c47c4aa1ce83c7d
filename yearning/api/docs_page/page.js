SwaggerUIBundle({
  url: "openapi.json",
  dom_id: "#operations",
  deepLinking: true,
  docExpansion: "none",
  defaultModelsExpandDepth: 0,
  displayOperationId: true,
  validatorUrl: null, // nothing is asked of other servers
});
